import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { newPage } from "~/core/design/page";
import { addPart, setBlock } from "~/core/design/edits/parts";
import { trialsInBlock } from "~/core/design/lookup";
import { freeTitle } from "~/core/values/names";
import type { Block, Breaks } from "~/core/design/block";
import type { FormattedText } from "~/core/values/formatted-text";
import { NumberField, Property, Section, Switch } from "~/app/components/fields";
import { TextEditor } from "./text-editor";

/** How the block is going, in words: for breaks within it and a page after it. */
const summary: FormattedText[number][] = [
  {
    as: "paragraph",
    runs: [
      { text: "Right answers: " },
      { ref: { builtIn: "block.accuracy" } },
      { text: ". Mean time of right answers: " },
      { ref: { builtIn: "block.mean_rt_ms" } },
      { text: " ms." },
    ],
  },
];
const freshBreaks = (trials: number): Breaks => ({
  everyTrials: Math.max(1, Math.min(40, Math.floor(trials / 2))),
  body: [
    { as: "heading", runs: [{ text: "A short break" }] },
    { as: "paragraph", runs: [{ text: "Rest your eyes. Continue when you are ready." }] },
    ...summary,
  ],
  leastSeconds: 0,
});

/** Rests within a block, and a page after it saying how it went. */
export function BreakSettings({ block }: { block: Block }) {
  const { document, edit, look } = useStudy();
  const { breaks } = block;
  const trials = trialsInBlock(block);
  const set = (change: Partial<Breaks>, merge: string) =>
    breaks && edit(setBlock(block.id, { breaks: { ...breaks, ...change } }), `${merge} ${block.id}`);
  const addSummary = () => {
    const names = Object.values(document.parts).map(({ name }) => name);
    const heading = { as: "heading" as const, runs: [{ text: "How it went" }] };
    const page = newPage(newId, freeTitle(`After ${block.name}`, names), [heading, ...summary]);
    edit(addPart(page, block.id));
    look({ part: page.id, selected: { kind: "part", part: page.id } });
  };
  return (
    <Section
      title="Breaks"
      aside={breaks ? `${Math.max(0, Math.ceil(trials / breaks.everyTrials) - 1)} in a pass` : ""}
    >
      <Switch
        label="Breaks"
        means="a page between trials"
        checked={breaks !== undefined}
        onChange={(on) => edit(setBlock(block.id, { breaks: on ? freshBreaks(trials) : undefined }))}
      />
      {breaks && (
        <>
          <Property label="After every">
            <NumberField
              label="Trials between breaks"
              value={breaks.everyTrials}
              whole
              least={1}
              suffix="trials"
              onChange={(everyTrials) => set({ everyTrials }, "breaks")}
            />
          </Property>
          <Property label="At least">
            <NumberField
              label="Shortest break in seconds"
              value={breaks.leastSeconds}
              least={0}
              suffix="s"
              onChange={(leastSeconds) => set({ leastSeconds }, "break length")}
            />
          </Property>
          <TextEditor
            small
            label={`Text of the breaks in ${block.name}`}
            value={breaks.body}
            block={null}
            onChange={(body) => set({ body }, "break text")}
          />
        </>
      )}
      <button type="button" className="mt-1 justify-self-start text-sm font-semibold text-plumage" onClick={addSummary}>
        Add a page after it that says how it went
      </button>
    </Section>
  );
}
