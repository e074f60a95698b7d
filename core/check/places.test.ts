import { describe, expect, it } from "vitest";
import { question, studyWithOpening } from "~/tests/support/forms";
import type { StudyDocument } from "../design/document";
import type { Page } from "../design/page";
import { preflight } from "./preflight";

const found = (change: (document: StudyDocument) => void) => {
  const document = structuredClone(studyWithOpening());
  change(document);
  return preflight(document).flatMap(({ level, where, message }) =>
    level === "error" ? [`${where}: ${message}`] : [],
  );
};
const page = (document: StudyDocument, id: string) => document.parts[id] as Page;

describe("where places are given", () => {
  it("nothing is wrong with pages that all have", () => {
    expect(found(() => undefined)).toEqual([]);
  });

  it("what stands above the line must be a page for all groups", () => {
    expect(found((document) => Object.assign(document.runningOrder[0]!, { onlyGroups: ["early"] }))).toEqual([
      expect.stringContaining("“Page consent”: Only pages that all groups have can come before places are given."),
      expect.stringContaining("divided by “age”, which they tell only after"),
    ]);
  });

  it("the line cannot stand inside a bracket", () => {
    const inside = found((document) => {
      const [first, second, third, ...others] = document.runningOrder;
      const nodes = [first!, second!, third!];
      document.runningOrder = [{ kind: "bracket", id: "b", arrange: "shuffled", nodes }, ...others];
      document.allocation.strata = [];
    });
    expect(inside).toEqual([expect.stringContaining("“Page habits”, which stands in a bracket")]);
  });

  it("a page above it cannot use what only a place brings", () => {
    expect(
      found((document) => {
        document.groupValues = [{ id: "how", name: "how", type: "text", perGroup: { early: "a", late: "b" } }];
        page(document, "about").flow.push({
          kind: "text",
          id: "t",
          text: [
            { as: "paragraph", runs: [{ ref: { groupValue: "how" } }, { ref: { builtIn: "participant.number" } }] },
          ],
        });
        const [, , node] = document.runningOrder;
        Object.assign(node!, { when: { left: { from: { builtIn: "participant.group" } }, is: "=", right: "early" } });
      }).map((each) => each.replace(/, which.*/, "")),
    ).toEqual([
      "page “Page about”: It uses “how”",
      "page “Page about”: It uses “participant.number”",
      "page “Page habits”: It uses “participant.group”",
    ]);
  });

  it("what divides participants must be told above it, and numbers must be divided somewhere", () => {
    const strata = (...from: ({ question: string } | { score: string })[]) =>
      found((document) => {
        const last = Object.values(document.parts).findLast((part) => part.kind === "page") as Page;
        last.flow.push(question("scale", "later"));
        document.allocation.strata = from.map((each) => ({ from: each }));
      });
    expect(strata({ question: "q-age" })).toEqual([expect.stringContaining("but where is not said")]);
    expect(strata({ question: "q-later" })).toEqual([expect.stringContaining("only after places are given")]);
    expect(strata({ question: "gone" }, { score: "gone" })).toHaveLength(2);
    expect(strata({ question: "q-takes-part" })).toEqual([]);
  });
});
