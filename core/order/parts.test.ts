import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { plannedAssignment } from "../allocate/allocate";
import { schemeOf } from "../allocate/scheme";
import { compile } from "../compile/compile";
import { newPage } from "../design/page";
import type { Arrangement } from "../arrangements/registry";
import type { RunningNode } from "../design/running-order";
import type { StudyDocument } from "../design/document";
import { plainStudy } from "~/tests/support/studies";
import { partsFor } from "./parts";

type Bracket = Extract<RunningNode, { kind: "bracket" }>;
const part = (id: string): RunningNode => ({ kind: "part", part: id });
const bracket = (id: string, arrange: Arrangement, nodes: RunningNode[], take?: number): Bracket => ({
  kind: "bracket",
  id,
  arrange,
  nodes,
  ...(take === undefined ? {} : { take }),
});
function studyOf(...nodes: RunningNode[]): StudyDocument {
  const document = plainStudy();
  document.runningOrder = nodes;
  document.parts = Object.fromEntries(
    [..."abcdefwz"].map((id) => [id, { ...newPage((prefix) => `${prefix}-${id}`, id.toUpperCase()), id }]),
  );
  return document;
}
const orderOf = (document: StudyDocument, participant: number, sitting: number | null = 1) => {
  const { group, orders } = plannedAssignment(document, participant);
  return partsFor(document, { group, orders, participant, sitting })
    .map(({ part }) => part)
    .join("");
};
const orders = (document: StudyDocument, count: number) =>
  Array.from({ length: count }, (_, index) => orderOf(document, index + 1));
const times = (list: string[], fits: (order: string) => boolean) => list.filter(fits).length;

describe("the order of parts", () => {
  it("varies within brackets only: pages around and between stay where they are", () => {
    const arrange = fc.constantFrom<Arrangement>(
      "listed",
      "shuffled",
      "every-order",
      "latin-square",
      "balanced-latin-square",
    );
    fc.assert(
      fc.property(arrange, arrange, fc.integer({ min: 1, max: 60 }), (one, two, participant) => {
        const document = studyOf(
          part("w"),
          bracket("x", one, [part("a"), part("b")]),
          part("c"),
          bracket("y", two, [part("d"), part("e"), part("f")]),
          part("z"),
        );
        expect(orderOf(document, participant)).toMatch(/^w(ab|ba)c[def]{3}z$/);
      }),
    );
  });

  it("nests: a bracket moves as one and keeps an order of its own; all cells come equally often", () => {
    const document = studyOf(
      bracket("outer", "latin-square", [part("a"), bracket("inner", "every-order", [part("b"), part("c")]), part("d")]),
    );
    expect(schemeOf(document)[0]?.cells).toBe(6);
    const found = orders(document, 60);
    expect(new Set(found)).toEqual(new Set(["abcd", "acbd", "bcda", "cbda", "dabc", "dacb"]));
    for (const order of new Set(found)) expect(times(found, (each) => each === order)).toBe(10);
  });

  it("is the same in every sitting, which leaves out the parts it does not have", () => {
    const only = (id: string, ...onlySittings: string[]): RunningNode => ({ kind: "part", part: id, onlySittings });
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 60 }), (participant) => {
        const document = studyOf(
          part("w"),
          bracket("x", "every-order", [only("a", "one"), part("b"), only("c", "two"), only("d", "one", "two")]),
          only("z", "two"),
        );
        document.sittings = ["one", "two"].map((id) => ({ id, name: id, reminder: "" }));
        const [whole, first, second] = [null, 1, 2].map((sitting) => orderOf(document, participant, sitting));
        expect([...whole!].sort().join("")).toBe("abcdwz");
        const left = (gone: RegExp) => whole!.replace(gone, "");
        expect([first, second]).toEqual([left(/[cz]/g), left(/a/g)]);
      }),
    );
  });

  it("takes k of n, each part equally often, by every arrangement", () => {
    for (const arrange of ["listed", "shuffled", "every-order", "latin-square", "balanced-latin-square"] as const) {
      const document = studyOf(bracket("x", arrange, [..."abcd"].map(part), 2));
      const found = orders(document, 96);
      for (const order of found) expect(new Set(order).size).toBe(2);
      for (const each of "abcd") expect(times(found, (order) => order.includes(each))).toBe(48);
      if (arrange === "listed") for (const order of found) expect(order).toBe([...order].toSorted().join(""));
    }
  });

  it("leaves out what a group does not have, and spreads each group over the orders it has itself", () => {
    const only: RunningNode = { kind: "part", part: "c", onlyGroups: ["late"] };
    const document = studyOf(bracket("x", "latin-square", [part("a"), part("b"), only]));
    document.groups.push({ id: "late", name: "Late" });
    expect(schemeOf(document).map(({ cells }) => cells)).toEqual([2, 3]);
    const found = orders(document, 24);
    expect(times(found, (order) => order.length === 2)).toBe(12);
    expect(new Set(found)).toEqual(new Set(["ab", "ba", "abc", "bca", "cab"]));
  });

  it("shuffled brackets come in all orders, each about equally often", () => {
    const found = orders(studyOf(bracket("x", "shuffled", [..."abc"].map(part))), 1200);
    expect(new Set(found).size).toBe(6);
    for (const order of new Set(found))
      expect(Math.abs(times(found, (each) => each === order) - 200)).toBeLessThan(4 * Math.sqrt((1200 * 5) / 36));
  });

  it("is the same in a later sitting, whose trials are drawn from another seed", () => {
    const document = studyOf(bracket("x", "shuffled", [..."abcdef"].map(part)));
    const parts = (seed: string) => compile(document, 3, seed, document.groups[0]!.id).parts.map(({ part }) => part);
    expect(parts("AB12 sitting 2")).toEqual(parts("AB12"));
  });
});
