import { expect, it } from "vitest";
import { firstBlock, plainStudy } from "~/tests/support/studies";
import { partNodes } from "../lookup";
import { parseStudy } from "../parse";
import { applyEdit } from "./edit";
import { setPlacing } from "./running-order";
import { addSittings, removeSitting, setSitting } from "./sittings";

const two = ["a", "b"].map((id) => ({ id, name: id.toUpperCase(), reminder: "" }));
const block = firstBlock(plainStudy()).id;
const nodeIn = (document: ReturnType<typeof plainStudy>) =>
  partNodes(document.runningOrder).find(({ part }) => part === block);

it("a removed sitting leaves its parts to the others, and to all where there is none left", () => {
  const edits = [
    addSittings(...two, { id: "c", name: "C", reminder: "" }),
    setPlacing(block, { onlySittings: ["b", "c"] }),
  ];
  const made = edits.reduce((document, edit) => applyEdit(document, edit).document, plainStudy());
  expect(parseStudy(made)).toMatchObject({ ok: true });
  const less = applyEdit(made, removeSitting("c")).document;
  expect(nodeIn(less)?.onlySittings).toEqual(["b"]);
  const none = applyEdit(less, removeSitting("b")).document;
  expect(nodeIn(none)).not.toHaveProperty("onlySittings");
  expect(none.sittings.map(({ id }) => id)).toEqual(["a"]);
  expect(parseStudy(none)).toMatchObject({ ok: true });
});

it("sittings that end before they begin, that are there twice, or that parts name in vain are no valid study", () => {
  const made = applyEdit(plainStudy(), addSittings(...two)).document;
  const due = (from: number, until: number) =>
    parseStudy(applyEdit(made, setSitting("b", { due: { from, until, late: "may" } })).document);
  expect(due(3, 3)).toMatchObject({ ok: true });
  expect(due(4, 3)).toMatchObject({
    ok: false,
    mistakes: [expect.stringContaining("ends before it begins: “B” is due from day 4 to day 3") as string],
  });
  expect(parseStudy(applyEdit(made, addSittings(two[0]!)).document)).toMatchObject({ ok: false });
  const vain = applyEdit(made, setPlacing(block, { onlySittings: ["z"] })).document;
  expect(parseStudy(vain)).toMatchObject({ ok: false, mistakes: [expect.stringContaining("no sitting") as string] });
});
