import { MoveDown, MoveUp, Ungroup } from "lucide-react";
import { useMemo } from "react";
import { Margin } from "~/app/compose/margin";
import { NumberField, Property, Section } from "~/app/components/fields";
import { Button, IconButton } from "~/app/components/button";
import { newId } from "~/app/editing/new-id";
import { useFindings, useStudy } from "~/app/editing/use-study";
import { bracketRound, removeBracket, setBracket, stepNode } from "~/core/design/edits/running-order";
import { CriterionSentence } from "~/app/compose/rules/criterion-sentence";
import { setBracketCriterion } from "~/core/design/edits/rules";
import { listedParts } from "~/core/design/lookup";
import { type Arrangement, arrangementKind, arrangementNames } from "~/core/arrangements/registry";
import type { Id } from "~/core/values/ref";
import { bracketExtent, partsBetween, planRows, type BracketNode } from "./plan-rows";
import { WhoGetsWhat } from "./who-gets-what";

/** The ways to arrange, as buttons of which one is pressed. */
const Arrangements = ({
  chosen,
  onChoose,
}: {
  chosen: Arrangement | null;
  onChoose: (arrange: Arrangement) => void;
}) => (
  <div role="group" aria-label="Order of the parts" className="mt-2 flex flex-wrap gap-1">
    {arrangementNames.map(([arrange, name]) => (
      <button
        key={arrange}
        type="button"
        aria-pressed={chosen === arrange}
        onClick={() => onChoose(arrange)}
        className={`h-[26px] rounded-md border px-2.5 text-sm ${chosen === arrange ? "border-plumage bg-plumage font-semibold text-on-plumage" : "border-hairline hover:bg-plumage-tint"}`}
      >
        {name}
      </button>
    ))}
  </div>
);

export function BracketSettings({ bracket }: { bracket: BracketNode }) {
  const { document, edit, look } = useStudy();
  const rows = useMemo(() => planRows(document), [document]);
  const { from, to } = bracketExtent(rows, bracket.id);
  const kind = arrangementKind(bracket.arrange);
  const size = bracket.nodes.length;
  const taken = Math.min(size, bracket.take ?? size);
  const parts = new Set(listedParts(bracket.nodes));
  const troubles = useFindings().filter(
    ({ where, target }) => where === "running order" && target.part && parts.has(target.part),
  );
  return (
    <Margin
      title={kind.name}
      kind={from === to ? `part ${from}` : `parts ${from} to ${to}`}
      actions={
        <>
          <IconButton icon={MoveUp} label="Move the bracket up" onClick={() => edit(stepNode(bracket.id, -1))} />
          <IconButton icon={MoveDown} label="Move the bracket down" onClick={() => edit(stepNode(bracket.id, 1))} />
          <IconButton
            icon={Ungroup}
            label="Remove the bracket; its parts stay"
            onClick={() => {
              edit(removeBracket(bracket.id));
              look({ selected: { kind: "nothing" } });
            }}
          />
        </>
      }
    >
      <Arrangements chosen={bracket.arrange} onChoose={(arrange) => edit(setBracket(bracket.id, { arrange }))} />
      <p className="mt-2 text-sm text-muted">{kind.means(size, taken)}</p>
      <Section title="How many">
        <Property label="Plays" htmlFor="bracket-take">
          <span className="w-14">
            <NumberField
              id="bracket-take"
              value={taken}
              whole
              least={1}
              onChange={(take) =>
                edit(setBracket(bracket.id, { take: take >= size ? undefined : take }), `take ${bracket.id}`)
              }
            />
          </span>
          <span className="text-sm text-muted">of {size} for each participant</span>
        </Property>
      </Section>
      <Section title="Until good enough">
        <CriterionSentence
          value={bracket.until}
          onChange={(until) => setBracketCriterion(bracket.id, until)}
          block={null}
          what="the bracket"
          where={`the bracket with ${document.parts[listedParts(bracket.nodes)[0] ?? ""]?.name ?? "nothing"}`}
        />
      </Section>
      {troubles.map(({ message }) => (
        <p key={message} className="mt-2 text-sm text-alarm">
          {message}
        </p>
      ))}
      <WhoGetsWhat bracket={bracket} />
    </Margin>
  );
}

/** Several rows are selected: what can be done with them together. */
export function PartsSettings({ from, to }: { from: Id; to: Id }) {
  const { document, edit, look } = useStudy();
  const rows = useMemo(() => planRows(document), [document]);
  const parts = partsBetween(rows, from, to);
  const names = parts.flatMap((id) => document.parts[id]?.name ?? []);
  const put = (arrange: Arrangement) => {
    const id = newId("bracket");
    edit(bracketRound(parts, id, arrange));
    look({ selected: { kind: "bracket", bracket: id } });
  };
  return (
    <Margin title={`${parts.length} parts`} kind="selected">
      <p className="mt-2 text-sm">{names.join(", ")}</p>
      <Section title="Vary their order across participants">
        <Arrangements chosen={null} onChoose={put} />
        <p className="mt-1 text-sm text-muted">
          Puts a bracket round them. Parts outside it stay where they are for everyone.
        </p>
      </Section>
      <div className="mt-3">
        <Button onClick={() => look({ selected: { kind: "part", part: from } })}>Select only the first</Button>
      </div>
      <WhoGetsWhat />
    </Margin>
  );
}
