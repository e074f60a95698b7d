import { describe, expect, it } from "vitest";
import { countedIds, firstBlock, plainStudy } from "~/tests/support/studies";
import { newItem } from "../items/item";
import { itemKinds } from "../items/registry";
import { object } from "../shape/compound";
import { oneOf } from "../shape/plain";
import { mistakesIn } from "../shape/shape";
import { contextFor } from "../values/context";
import { rowValues } from "../values/table";
import { acceptedBy } from "./device";
import { inputFields } from "./input";
import { newKeys } from "./keys/keys";
import { deviceKind, deviceNames, deviceShape } from "./registry";

const document = plainStudy();
const { table } = firstBlock(document);
const group = document.groups[0]!.id;
const values = rowValues(document, table, table.rows[0]!, group);
const context = contextFor({ study: document, group, participant: 1 }, { values });
const recorded = object({ device: oneOf(...deviceNames), ...inputFields });
const newId = countedIds();
const items = itemKinds.map((kind) => newItem(newId, kind, `the ${kind}`));

it("a key is stored as the design spells it, however caps lock and Shift stand", () => {
  const device = newKeys(["j", "Enter", "Ä"]);
  const stored = (value: string) => acceptedBy({ by: [device] }, { device: "keys", value }, context);
  expect(["j", "J", "enter", "ä", "k", ""].map(stored)).toEqual(["j", "j", "Enter", "Ä", null, null]);
});

describe.each(deviceNames)("answering by %s", (name) => {
  const kind = deviceKind(name);
  const device = kind.make(items);

  it("has the shape of its device when it is new", () => {
    expect(device.device).toBe(name);
    expect(mistakesIn(deviceShape, device)).toEqual([]);
  });

  it("takes every input it lists, or the one made for a value; each is an input a record can hold", () => {
    const listed = kind.possible(device, context, items);
    const inputs = listed ?? [kind.giving!(device, "17")];
    for (const input of inputs) {
      expect(recorded.fits(input)).toBe(true);
      expect(acceptedBy({ by: [device] }, input, context)).toBe(input.value);
    }
    if (listed === null) expect(inputs[0]?.value).toBe("17");
  });

  it("takes nothing of another device", () => {
    const other = deviceNames.find((each) => each !== name)!;
    expect(acceptedBy({ by: [device] }, { device: other, value: "f" }, context)).toBeNull();
  });

  it("is given by items that are there, and by none in a block without any", () => {
    for (const { item } of kind.items(device)) expect(items.map(({ id }) => id)).toContain(item);
    // Keys and typed texts need no item; what needs one says that none was chosen.
    const needsItems = kind.items(device).length > 0;
    expect(kind.isEmpty(kind.make([]))).toBe(needsItems);
  });
});
