import { describe, expect, it } from "vitest";
import { mistakesIn } from "../shape/shape";
import { resolveNumber } from "../values/resolve";
import { contextFor } from "../values/context";
import { countedIds, plainStudy } from "~/tests/support/studies";
import { measuresOf, newItem } from "./item";
import { itemKind, itemKinds, itemShape } from "./registry";

const document = plainStudy();
const context = contextFor({ study: document, group: document.groups[0]!.id, participant: 1 });

describe.each(itemKinds)("a new %s", (kind) => {
  const item = newItem(countedIds(), kind, "new one", () => "a-file");

  it("has the shape of its kind, and of no other", () => {
    expect(item).toMatchObject({ kind, name: "new one" });
    expect(mistakesIn(itemShape, item)).toEqual([]);
    expect(itemKinds.filter((each) => itemKind(each).shape.fits(item))).toEqual([kind]);
  });

  it("can be drawn as it is: every number is as large as it has to be", () => {
    for (const { what, value, least } of measuresOf(item))
      expect(resolveNumber(value, context), what).toBeGreaterThanOrEqual(least);
  });

  it("keeps its shape through a file", () => expect(itemShape.fits(JSON.parse(JSON.stringify(item)))).toBe(true));

  it("has columns of names that can stand in a file, each with its line of the codebook", () => {
    for (const { name, meaning } of itemKind(kind).columns?.(item) ?? []) {
      expect(name).toMatch(/^[a-z_]+$/);
      expect(meaning.length).toBeGreaterThan(10);
    }
  });
});
