import { describe, expect, it } from "vitest";
import { plannedAssignment } from "~/core/allocate/allocate";
import { compile } from "~/core/compile/compile";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { blockSource, shownTrial } from "./shown-trial";

const document = withBlock(plainStudy(), (block) => void (block.order.passes = 4));
const block = firstBlock(document);
const plan = compile(document, 3, document.settings.seed, plannedAssignment(document, 3).group);
const part = plan.parts[1];
const trials = part?.kind === "block" ? part.trials : [];
const [first, second] = block.table.rows.map(({ id }) => id);

describe("the trial shown in the figure", () => {
  it("is the real one of that participant, with its row's real values", () => {
    for (const trial of trials) {
      const shown = shownTrial(blockSource(document, block, 3), trial.trial, null);
      expect(shown.trial).toEqual(trial);
      expect(shown.context.values).toEqual(trial.values);
      expect(shown.inWords).toBe(`Trial ${trial.trial} of participant 3`);
    }
  });
  it("is the first with the row that is asked for, and the block's first where nothing is", () => {
    expect(shownTrial(blockSource(document, block, 3), null, second ?? null).trial).toEqual(
      trials.find(({ row }) => row === second),
    );
    expect(shownTrial(blockSource(document, block, 3), null, null).trial).toEqual(trials[0]);
  });
  it("follows the row when row and trial disagree", () => {
    const other = trials.find(({ row }) => row === first);
    expect(shownTrial(blockSource(document, block, 3), other?.trial ?? 1, second ?? null).trial?.row).toBe(second);
  });
  it("supposes a right answer for what is shown after it", () => {
    const { context } = shownTrial(blockSource(document, block, 3), null, first ?? null);
    expect(context.tally.last).toMatchObject({ answer: "f", right: true, outcome: "right" });
  });
  it("shows a row without copies too, and says that nobody gets it", () => {
    const unused = withBlock(document, (each) => void (each.table.rows[0]!.copies = 0));
    const shown = shownTrial(blockSource(unused, firstBlock(unused), 3), null, first ?? null);
    expect([shown.trial, shown.rowNumber, shown.inWords]).toEqual([null, 1, "A row that participant 3 does not get"]);
  });
});
