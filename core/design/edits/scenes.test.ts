import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy } from "~/tests/support/studies";
import { applyEdit } from "./edit";
import { removeScene, copyItems } from "./scenes";

const block = firstBlock(plainStudy());
const [fixation, target] = block.scenes;

describe("edits of scenes", () => {
  it("move the answer window off a scene that is removed", () => {
    const { document } = applyEdit(plainStudy(), removeScene(block.id, target!.id));
    expect(firstBlock(document).answers[0]).toMatchObject({ opensWith: fixation!.id, closesWith: fixation!.id });
  });

  it("keep the last scene", () => {
    const one = applyEdit(plainStudy(), removeScene(block.id, fixation!.id)).document;
    expect(applyEdit(one, removeScene(block.id, target!.id)).document).toEqual(one);
  });

  it("copy items behind their originals, with names of their own and a little aside", () => {
    const [item] = target!.items;
    const { document } = applyEdit(plainStudy(), copyItems(block.id, target!.id, [item!.id], ["copy"]));
    const items = firstBlock(document).scenes[1]!.items;
    expect(items.map(({ name }) => name)).toEqual([item!.name, expect.not.stringMatching(`^${item!.name}$`)]);
    expect(items[1]).not.toMatchObject({ at: (item as { at: unknown }).at });
  });
});
