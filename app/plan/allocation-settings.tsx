import { ChoiceLine, NumberField, Property, Section, TextField } from "~/app/components/fields";
import { Margin } from "~/app/compose/margin";
import { useFindings, useStudy } from "~/app/editing/use-study";
import { setLine } from "~/core/design/edits/running-order";
import { setAllocation } from "~/core/design/edits/study";
import type { AllocationMethod, Counting } from "~/core/design/allocation";
import { possibleLines } from "~/core/order/opening";
import { parameterProblem } from "./parameter-problem";
import { StrataSettings } from "./strata-settings";
import { WhoGetsWhat } from "./who-gets-what";

const methods: readonly (readonly [AllocationMethod, string])[] = [
  ["permuted-blocks", "in permuted blocks"],
  ["least-filled", "the least filled, ties drawn"],
  ["by-number", "by participant number"],
  ["by-parameter", "by a parameter of the link"],
  ["by-experimenter", "by the experimenter"],
];
const means: Record<AllocationMethod, string> = {
  "permuted-blocks":
    "Participants are taken in blocks that hold each group as its share says, in an order drawn for each block. A place that is given back is filled first.",
  "least-filled": "The group with the fewest participants for its share; within it the order assigned least often.",
  "by-number": "In turn: with two equal groups odd and even numbers. Nothing is drawn.",
  "by-parameter": "The link says the group, for example …/join/…?group=early. Orders within a group are filled evenly.",
  "by-experimenter":
    "Chosen in Collect when a session is started in the lab; if no one chooses, the least filled group.",
};
const counting: readonly (readonly [Counting["sessions"], string])[] = [
  ["finished-and-active", "finished and active ones"],
  ["finished", "only finished ones"],
  ["all", "all that were started"],
];
/** How participants are assigned to groups and orders, and which sessions count. */
export function AllocationSettings() {
  const { document, edit } = useStudy();
  const { allocation, groups } = document;
  const { counts, parameter } = allocation;
  const lines = possibleLines(document).flatMap(({ part }) => document.parts[part] ?? []);
  const troubles = useFindings().filter(({ where }) => where === "who gets what");
  return (
    <Margin title="Who gets what" kind="allocation">
      <Section title="Groups and orders are assigned">
        <ChoiceLine
          says="How"
          value={allocation.method}
          options={methods}
          onChange={(method) =>
            edit(
              setAllocation({
                method,
                ...(method === "by-parameter" && !parameter
                  ? {
                      parameter: {
                        name: "group",
                        values: Object.fromEntries(groups.map(({ id, name }) => [id, name])),
                        otherwise: "refuse" as const,
                      },
                    }
                  : {}),
              }),
            )
          }
        />
        <p className="text-sm text-muted">{means[allocation.method]}</p>
        {allocation.method === "permuted-blocks" && (
          <Property label="Block length" htmlFor="block-sizes">
            <TextField
              id="block-sizes"
              value={allocation.blockSizes.join(", ")}
              problem={(text) =>
                sizesIn(text) ? null : "Numbers from 1 to 20, such as 1 or 1, 2, 3; of several, one is drawn."
              }
              onChange={(text) => edit(setAllocation({ blockSizes: sizesIn(text) ?? [1] }), "block sizes")}
              suffix="×"
            />
          </Property>
        )}
        {allocation.method === "by-parameter" && parameter && (
          <>
            <Property label="Parameter" htmlFor="parameter-name">
              <TextField
                id="parameter-name"
                value={parameter.name}
                problem={parameterProblem}
                onChange={(name) => edit(setAllocation({ parameter: { ...parameter, name } }), "parameter name")}
              />
            </Property>
            {groups.map(({ id, name }) => (
              <Property key={id} label={name}>
                <TextField
                  label={`Value for ${name}`}
                  prefix="="
                  value={parameter.values[id] ?? ""}
                  onChange={(value) =>
                    edit(
                      setAllocation({ parameter: { ...parameter, values: { ...parameter.values, [id]: value } } }),
                      `parameter ${id}`,
                    )
                  }
                />
              </Property>
            ))}
            <ChoiceLine
              says="Otherwise"
              value={parameter.otherwise}
              options={
                [
                  ["refuse", "the link is refused"],
                  ["least-filled", "the least filled group"],
                ] as const
              }
              onChange={(otherwise) => edit(setAllocation({ parameter: { ...parameter, otherwise } }))}
            />
          </>
        )}
        <ChoiceLine
          says="Places are given"
          value={allocation.after ?? ""}
          options={[["", "at the start"], ...lines.map(({ id, name }) => [id, `after “${name}”`] as const)]}
          onChange={(after) => edit(setLine(after === "" ? undefined : after))}
        />
        {allocation.after !== undefined && (
          <p className="text-sm text-muted">
            What comes before is the same for all. Whoever declines or is screened out there takes no place and has no
            number.
          </p>
        )}
        {troubles.map(({ message }) => (
          <p key={message} className="text-sm text-alarm">
            {message}
          </p>
        ))}
      </Section>
      <StrataSettings />
      <Section title="Which sessions hold their place">
        <ChoiceLine
          says="Sessions"
          value={counts.sessions}
          options={counting}
          onChange={(sessions) => edit(setAllocation({ counts: { ...counts, sessions } }))}
        />
        {counts.sessions === "finished-and-active" && (
          <Property label="Active for" htmlFor="active-minutes">
            <NumberField
              id="active-minutes"
              value={counts.activeMinutes}
              whole
              least={1}
              suffix="min"
              onChange={(activeMinutes) =>
                edit(setAllocation({ counts: { ...counts, activeMinutes } }), "active minutes")
              }
            />
          </Property>
        )}
        <ChoiceLine
          says="Excluded"
          value={counts.excluded}
          options={
            [
              ["gives-back", "give their place back"],
              ["keeps", "keep their place"],
            ] as const
          }
          onChange={(excluded) => edit(setAllocation({ counts: { ...counts, excluded } }))}
        />
      </Section>
      <WhoGetsWhat />
    </Margin>
  );
}

function sizesIn(text: string): number[] | null {
  const sizes = text.split(",").map((each) => Number(each.trim()));
  return sizes.length > 0 &&
    sizes.length <= 10 &&
    sizes.every((size) => Number.isInteger(size) && size >= 1 && size <= 20)
    ? sizes
    : null;
}
