import { expect, it } from "vitest";
import { to8 } from "./to-8";

it("makes markers of a block out of those of its scenes, and leaves other parts as they were", () => {
  const page = { kind: "page", id: "p" };
  const { parts } = to8.up({
    parts: {
      p: page,
      b: {
        kind: "block",
        scenes: [
          { id: "s1", name: "cross" },
          { id: "s2", name: "boat", marker: " 12 " },
          { id: "s3", marker: "" },
        ],
      },
    },
  });
  expect(parts).toEqual({
    p: page,
    b: {
      kind: "block",
      scenes: [{ id: "s1", name: "cross" }, { id: "s2", name: "boat" }, { id: "s3" }],
      markers: [{ id: "marker-1", name: "boat", at: { on: "scene-begins", scene: "s2" }, value: "12" }],
    },
  });
});
