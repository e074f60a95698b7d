import { Choice, Property, Section, Switch, TextField, Tick } from "~/app/components/fields";
import { useStudy } from "~/app/editing/use-study";
import { conditionInWords } from "~/core/describe/words";
import { setPlacing } from "~/core/design/edits/running-order";
import type { Sitting } from "~/core/design/sittings";
import { isInSitting } from "~/core/order/parts";
import type { Comparison, Condition } from "~/core/values/condition";
import { isBinding, type Ref, type Scalar } from "~/core/values/ref";
import { refKey } from "~/core/values/uses";
import type { PlanRow } from "./plan-rows";

/** What can be known when a session comes to a part. */
const known = [
  ["block.accuracy", "share right in the block before"],
  ["block.mean_rt_ms", "mean reaction time in the block before"],
  ["session.accuracy", "share right so far"],
  ["last.answer", "the latest answer"],
  ["participant.number", "the participant's number"],
] as const;
const comparisons: readonly (readonly [Comparison, string])[] = [
  ["≥", "≥"],
  ["<", "<"],
  ["=", "="],
  ["≠", "≠"],
  [">", ">"],
  ["≤", "≤"],
];
type Simple = { left: { from: Ref }; is: Comparison; right: Scalar };

/** Which groups and sittings have a part, and on what it hangs. */
export function PartPlacing({ row: { part, node } }: { row: PlanRow }) {
  const { document, edit } = useStudy();
  const { groups } = document;
  const has = (id: string) => !node.onlyGroups || node.onlyGroups.includes(id);
  const toggle = (id: string) => {
    const left = groups.filter((group) => (group.id === id ? !has(id) : has(group.id))).map((group) => group.id);
    if (left.length > 0) edit(setPlacing(part.id, { onlyGroups: left.length === groups.length ? undefined : left }));
  };
  const toggleSitting = (toggled: Sitting) => {
    const { sittings } = document;
    const left = sittings.filter((each) => isInSitting(node, each) !== (each === toggled)).map(({ id }) => id);
    if (left.length > 0)
      edit(setPlacing(part.id, { onlySittings: left.length === sittings.length ? undefined : left }));
  };
  const simple = asSimple(node.when);
  const sources: (readonly [string, string])[] = [
    ...known.map(([name, words]) => [refKey({ builtIn: name }), words] as const),
    ...document.groupValues.map(({ id, name }) => [refKey({ groupValue: id }), `group value ${name}`] as const),
  ];
  const refOf = (key: string): Ref => {
    const [kind, ...rest] = key.split(":");
    return { [kind as string]: rest.join(":") } as Ref;
  };
  const set = (when: Condition | undefined) => edit(setPlacing(part.id, { when }), `when ${part.id}`);
  return (
    <Section title="Who plays it">
      {groups.length > 1 && (
        <fieldset className="flex flex-wrap gap-x-4 gap-y-1 py-1">
          <legend className="sr-only">Groups that have this part</legend>
          {groups.map(({ id, name }) => (
            <Tick key={id} checked={has(id)} onChange={() => toggle(id)}>
              {name}
            </Tick>
          ))}
        </fieldset>
      )}
      {document.sittings.length > 1 && (
        <fieldset className="flex flex-wrap gap-x-4 gap-y-1 py-1">
          <legend className="sr-only">Sittings that have this part</legend>
          {document.sittings.map((sitting) => (
            <Tick key={sitting.id} checked={isInSitting(node, sitting)} onChange={() => toggleSitting(sitting)}>
              {sitting.name}
            </Tick>
          ))}
        </fieldset>
      )}
      {part.kind === "page" && (
        <Switch
          label="Aside"
          means="only rules show it"
          checked={node.aside === true}
          onChange={(aside) => edit(setPlacing(part.id, { aside: aside ? true : undefined }))}
        />
      )}
      <Property label="Only if">
        <Choice
          label="Played only if"
          value={node.when === undefined ? "always" : simple ? refKey(simple.left.from) : "other"}
          options={[
            ["always", "always played"],
            ...sources,
            ...(node.when && !simple ? [["other", conditionInWords(node.when, document, null)] as const] : []),
          ]}
          onChange={(key) =>
            set(
              key === "always"
                ? undefined
                : key === "other"
                  ? node.when
                  : { left: { from: refOf(key) }, is: simple?.is ?? "≥", right: simple?.right ?? 0.8 },
            )
          }
        />
      </Property>
      {simple && (
        <Property label="">
          <span className="w-16 shrink-0">
            <Choice
              label="Comparison"
              value={simple.is}
              options={comparisons}
              onChange={(is) => set({ ...simple, is })}
            />
          </span>
          <TextField
            label="Value"
            value={String(simple.right)}
            onChange={(text) =>
              set({
                ...simple,
                right: /^-?\d+([.,]\d+)?$/.test(text.trim()) ? Number(text.trim().replace(",", ".")) : text,
              })
            }
          />
        </Property>
      )}
    </Section>
  );
}

function asSimple(when: Condition | undefined): Simple | null {
  if (!when || !("is" in when) || !isBinding(when.left)) return null;
  return typeof when.right === "object" || "column" in when.left.from ? null : (when as Simple);
}
