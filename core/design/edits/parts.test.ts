import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy } from "~/tests/support/studies";
import { listedParts } from "../lookup";
import { applyEdit } from "./edit";
import { copyPart, removePart } from "./parts";

const block = firstBlock(plainStudy());

describe("edits of parts", () => {
  it("copy and remove parts in the running order", () => {
    const { document } = applyEdit(plainStudy(), copyPart(block.id, "copy"));
    expect(listedParts(document.runningOrder)[2]).toBe("copy");
    expect(document.parts["copy"]?.name).toBe("Block 1 copy");
    expect(applyEdit(document, removePart("copy")).document).toEqual(plainStudy());
  });
});
