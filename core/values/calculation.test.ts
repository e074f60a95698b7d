import { describe, expect, it } from "vitest";
import { streamFor } from "../random/stream";
import { calculationKind, calculationNames, type CalculationName } from "./calculation";
import { contextFor } from "./context";
import { givenFor } from "./given";
import type { Value } from "./ref";
import { operandValue } from "./resolve";
import type { Variable } from "./study-values";

const worked = (name: CalculationName, ...values: (Value | null)[]) =>
  calculationKind(name).compute({ values, stream: streamFor("s", name) });

describe("a calculation", () => {
  it.each<[CalculationName, (Value | null)[], Value | null]>([
    ["plus", [2, "3.5"], 5.5],
    ["minus", [2, 3], -1],
    ["times", [2, null], null],
    ["divided-by", [1, 0], null],
    ["remainder", [7, 3], 1],
    ["remainder", [-1, 3], 2],
    ["round", [2.345, 2], 2.35],
    ["absolute", [-4], 4],
    ["least", [[3, 1, 2]], 1],
    ["most", [3, 9, [4]], 9],
    ["sum", [[1, 2, "x", 3]], 6],
    ["mean", [[1, 2, 6]], 3],
    ["mean", [[]], null],
    ["median", [[5, 1, 9, 3]], 4],
    ["standard-deviation", [[2, 4, 4, 4, 5, 5, 7, 9]], Math.sqrt(32 / 7)],
    ["standard-deviation", [[2]], null],
    ["count", [["a", "b", ""]], 2],
    ["join", ["tern ", 2, null], "tern 2"],
    ["length", ["Möwe"], 4],
    ["position", ["sandpiper", "pip"], 5],
    ["position", ["sandpiper", "x"], 0],
    ["part", ["sandpiper", 5, 3], "pip"],
    ["entry", [["a", "b"], 2], "b"],
    ["entry", [["a", "b"], 3], null],
  ])("%s of %j is %j", (name, values, result) => {
    const found = worked(name, ...values);
    if (typeof result === "number") expect(found).toBeCloseTo(result, 9);
    else expect(found).toEqual(result);
  });

  it("draws only where it is given a stream, within its bounds", () => {
    const stream = streamFor("s", 1);
    const drawn = Array.from({ length: 200 }, () =>
      calculationKind("random-whole").compute({ values: [1, 6], stream }),
    );
    expect(new Set(drawn)).toEqual(new Set([1, 2, 3, 4, 5, 6]));
    expect(calculationKind("random-pick").compute({ values: [["a"]], stream })).toBe("a");
    expect(calculationKind("random-whole").compute({ values: [1, 6], stream: null })).toBeNull();
  });

  it("never throws, whatever it gets", () => {
    const odd: (Value | null)[] = [null, "", "x", true, [], ["a", 1], 1e308, -0];
    for (const name of calculationNames)
      for (const first of odd) for (const second of odd) expect(() => worked(name, first, second, 1)).not.toThrow();
  });

  it("nests, and sees variables, lists as lists", () => {
    const study = {
      groups: [],
      groupValues: [],
      media: [],
      variables: [{ id: "l", name: "times", type: "list" as const, start: [400, 500] }],
    };
    const context = contextFor({ study, group: "", participant: 1 }, { variables: { l: [300, 500, 700] } });
    const list = { from: { variable: "l" } };
    expect(
      operandValue(
        {
          calculate: "minus",
          of: [
            { calculate: "most", of: [list] },
            { calculate: "mean", of: [list] },
          ],
        },
        context,
      ),
    ).toBe(200);
    expect(operandValue(list, contextFor({ study, group: "", participant: 1 }))).toEqual([400, 500]);
  });
});

describe("what variables start with", () => {
  const variable = (id: string, type: Variable["type"], more: Partial<Variable> = {}): Variable => ({
    id,
    name: id,
    type,
    start: null,
    ...more,
  });
  it("is a parameter of the link, of the right type, else what an earlier sitting kept", () => {
    const variables = [
      variable("n", "number", { from: { urlParameter: "level" } }),
      variable("y", "yes-no", { from: { urlParameter: "old" } }),
      variable("l", "list", { from: { urlParameter: "words" } }),
      variable("k", "number", { kept: true }),
      variable("x", "number", { kept: true, from: { urlParameter: "level" } }),
      variable("plain", "number"),
    ];
    const kept = { k: 7, x: 8, plain: 9 };
    expect(givenFor(variables, { level: "3", old: "yes", words: "gull; 4" }, kept)).toEqual({
      n: 3,
      y: true,
      l: ["gull", 4],
      k: 7,
      x: 3,
    });
    expect(givenFor(variables, { level: "three", old: "perhaps" }, kept)).toEqual({ k: 7, x: 8 });
  });
});
