import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { newAdaptive } from "../adaptive/new";
import type { Staircase } from "../adaptive/staircase/spec";
import type { Block } from "../design/block";
import { applyEdit } from "../design/edits/edit";
import { removeColumn, setFollows } from "../design/edits/table";
import { merge } from "../design/merge";
import { methodInWords } from "../describe/method";
import { usesOfVariable } from "../design/uses-of-rules";
import type { StudyDocument } from "../design/document";
import { parseStudy } from "../design/parse";
import type { Follows } from "../values/table";
import { followingProblems } from "./following";

const staircase = newAdaptive("staircase", 1, 100) as Staircase;
const level = (document: StudyDocument) => firstBlock(document).table.columns.find(({ id }) => id === "level")!;

/** The plain study with a column whose value follows the answers, in blocks of eighty trials. */
function study(follows: Follows, change: (block: Block, document: StudyDocument) => void = () => undefined) {
  return withBlock(plainStudy(), (block, document) => {
    block.order.passes = 40;
    block.table.columns.push({ id: "level", name: "level", type: "number", factor: false, follows });
    change(block, document);
  });
}
const found = (document: StudyDocument) =>
  followingProblems(document).map(({ level, message }) => `${level}: ${message}`);
const word = () => firstBlock(plainStudy()).table.columns[0]!.id;

describe("a column that follows the answers", () => {
  it("has nothing to mend as it is made", () => {
    const document = study({ by: staircase });
    expect(found(document)).toEqual([]);
    expect(parseStudy(structuredClone(document)).ok).toBe(true);
  });

  it.each<[string, StudyDocument, RegExp]>([
    ["text", study({ by: staircase }, (block) => (block.table.columns.at(-1)!.type = "text")), /error: .*is a number/],
    ["nothing right", study({ by: staircase }, (block) => delete block.answers[0]!.right), /error: No answer is right/],
    ["guessing", study({ by: { ...staircase, down: 1 } }), /error: It leads to 50 % right, which guessing reaches/],
    ["lapses", study({ by: { ...staircase, lapse: 0.35 } }), /error: .*which lapses do not allow/],
    [
      "an order",
      study(
        { by: staircase },
        (block) => (block.order.limits = [{ kind: "longest-run", columns: ["level"], most: 2 }]),
      ),
      /error: It is used for a limit on the order/,
    ],
    [
      "too few trials",
      study({ by: staircase }, (block) => (block.order.passes = 4)),
      /warning: It needs at least 16 trials/,
    ],
    [
      "too few for its levels",
      study({ by: staircase, each: word() }, (block) => (block.order.passes = 10)),
      /warning: It needs at least 32 trials for 2 levels, and the block has 20/,
    ],
    ["a variable that is gone", study({ by: staircase, keeps: "gone" }), /error: The variable .* has been removed/],
    [
      "a variable of text",
      study({ by: staircase, keeps: "v" }, (_, document) => {
        document.variables = [{ id: "v", name: "note_kept", type: "text", start: "" }];
      }),
      /error: “note_kept” holds no number/,
    ],
  ])("is found where it cannot be: %s", (_, document, says) => {
    expect(found(document).join("\n")).toMatch(says);
  });

  it("names what trials that come again can never reach", () => {
    const again = { rightTimes: 4, inARow: false, gaps: [], most: 3 };
    expect(found(withBlock(plainStudy(), (block) => (block.order.again = again))).join()).toMatch(
      /error: A trial is shown at most 3 times, so it is never right 4 times/,
    );
  });
});

describe("the document", () => {
  it("holds no other column filled from one that follows, and loses its levels with their column", () => {
    const [first, second] = firstBlock(plainStudy()).table.columns.map(({ id }) => id) as [string, string];
    const document = withBlock(plainStudy(), (block) => {
      block.table.columns[1]!.cases = { by: [first], when: [], otherwise: "f" };
    });
    const block = firstBlock(document).id;
    const made = applyEdit(document, setFollows(block, first, { by: staircase })).document;
    expect(firstBlock(made).table.columns[1]?.cases).toBeUndefined();
    expect(firstBlock(made).table.columns[0]).toMatchObject({ type: "number", follows: { by: staircase } });
    expect(parseStudy(structuredClone(made)).ok).toBe(true);
    const apart = applyEdit(made, setFollows(block, first, { by: staircase, each: second })).document;
    const without = applyEdit(apart, removeColumn(block, second)).document;
    expect(firstBlock(without).table.columns[0]?.follows).toEqual({ by: staircase });
  });

  it("is refused where the levels are those of a column that is gone, and mended where two people's work says so", () => {
    const base = study({ by: staircase });
    const gone = study({ by: staircase, each: "gone" });
    const parsed = parseStudy(structuredClone(gone));
    expect(parsed.ok ? [] : parsed.mistakes).toEqual([
      expect.stringMatching(
        /^block “Block 1”, column “level”: follows, each names a column that the table does not have/,
      ),
    ]);
    const mine = study({ by: staircase, each: word() });
    const theirs = applyEdit(base, removeColumn(firstBlock(base).id, word())).document;
    const both = merge(base, mine, theirs);
    expect(level(both.document).follows).toEqual({ by: staircase });
  });

  it("holds no more of them than can be worked out before a trial, and no values beyond bounds", () => {
    const many = study({ by: staircase }, (block) => {
      for (let index = 0; index < 10; index++)
        block.table.columns.push({
          ...{ id: `more-${index}`, name: `more_${index}`, type: "number", factor: false },
          follows: { by: staircase },
        });
    });
    const refused = (document: StudyDocument) => {
      const parsed = parseStudy(structuredClone(document));
      return parsed.ok ? "" : parsed.mistakes.join("\n");
    };
    expect(refused(many)).toMatch(/can have at most 10 that follow the answers/);
    expect(refused(study({ by: { ...staircase, least: -1e308, most: 1e308 } }))).toMatch(/1000000000/);
  });

  it("says in the method section how values followed, and where a variable holds their threshold", () => {
    const document = study({ by: staircase, each: word(), keeps: "v" }, (block) => {
      block.order.again = { rightTimes: 2, inARow: true, gaps: [1, 3], most: 6 };
    });
    const said = methodInWords(document).join("\n");
    expect(said).toMatch(
      /level followed the answers by a staircase, harder after 2 right answers in a row and easier after a wrong one \(Levitt, 1971\), which leads to 70\.7 % right, between 1 and 100, from 100 in steps of .*, for each word by itself; it ended after 10 reversals/,
    );
    expect(said).toMatch(
      /each trial came again after 1 and 3 other trials, the more often it was right until it was right twice in a row, at most 6 times in all/,
    );
    expect(usesOfVariable(document, "v")).toEqual([expect.stringMatching(/^the threshold of column “level”/)]);
  });
});
