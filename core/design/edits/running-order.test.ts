import { describe, expect, it } from "vitest";
import { studyWithOpening } from "~/tests/support/forms";
import { firstBlock, plainStudy } from "~/tests/support/studies";
import { listedParts } from "../lookup";
import { applyEdit, type Edit } from "./edit";
import { removePart } from "./parts";
import { bracketRound, moveNode, removeBracket, setLine, stepNode } from "./running-order";

const block = firstBlock(plainStudy());
const [first, , last] = listedParts(plainStudy().runningOrder);

describe("edits of the running order", () => {
  it("put a bracket round neighbours, and take it away again", () => {
    const bracketed = applyEdit(plainStudy(), bracketRound([first!, block.id], "b", "shuffled")).document;
    expect(bracketed.runningOrder[0]).toMatchObject({
      kind: "bracket",
      id: "b",
      nodes: [{ part: first }, { part: block.id }],
    });
    expect(applyEdit(bracketed, removeBracket("b")).document).toEqual(plainStudy());
  });

  it("step a part into a bracket it meets, through it and out of it", () => {
    let document = applyEdit(plainStudy(), bracketRound([first!, block.id], "b", "shuffled")).document;
    const shown = () =>
      document.runningOrder.map((node) =>
        node.kind === "bracket" ? node.nodes.map((each) => (each.kind === "part" ? each.part : "")) : node.part,
      );
    const step = (by: 1 | -1) => void (document = applyEdit(document, stepNode(last!, by)).document);
    step(-1);
    expect(shown()).toEqual([[first, block.id, last]]);
    step(-1);
    expect(shown()).toEqual([[first, last, block.id]]);
    step(-1);
    step(-1);
    expect(shown()).toEqual([last, [first, block.id]]);
  });

  it("do nothing to fewer than two neighbours, or to what is gone", () => {
    expect(applyEdit(plainStudy(), bracketRound([block.id], "b", "shuffled")).document).toEqual(plainStudy());
    expect(applyEdit(plainStudy(), moveNode("gone", null, null)).document).toEqual(plainStudy());
  });
});

describe("the line where places are given", () => {
  const study = studyWithOpening();
  const [consent, about, habits, welcome] = listedParts(study.runningOrder) as [string, string, string, string];
  const after = (...edits: Edit[]) =>
    edits.reduce((document, edit) => applyEdit(document, edit).document, study).allocation.after;

  it("stays below those that were above it, wherever among each other they go", () => {
    expect(after(moveNode(consent, welcome, null))).toBe(consent);
    expect(after(moveNode(habits, consent, null))).toBe(about);
    expect(after(moveNode(welcome, about, null))).toBe(habits);
  });

  it("lets go of a page that is moved below it, removed, or put into a bracket", () => {
    expect(after(moveNode(habits, null, null))).toBe(about);
    expect(after(removePart(habits))).toBe(about);
    expect(after(removePart(habits), removePart(about), removePart(consent))).toBeUndefined();
    expect(after(bracketRound([about, habits], "b", "shuffled"))).toBe(consent);
    expect(after(bracketRound([consent, about], "b", "shuffled"))).toBeUndefined();
  });

  it("is put after a page, and at the start", () => {
    expect(after(setLine(consent))).toBe(consent);
    expect(after(setLine(undefined))).toBeUndefined();
  });
});
