import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Allocation, AllocationMethod } from "~/core/design/allocation";
import type { Arrangement } from "~/core/arrangements/registry";
import type { StudyDocument } from "~/core/design/document";
import { plainStudy } from "~/tests/support/studies";
import { newPage } from "../design/page";
import { allocate, allocateBeside, plannedAssignment } from "./allocate";
import { cellKey, assignmentTo, schemeOf, shareOf } from "./scheme";

type Form = {
  shares: number[];
  brackets: { arrange: Arrangement; size: number }[];
  method: AllocationMethod;
  blockSizes: number[];
  seed: string;
};
function studyOf({ shares, brackets, method, blockSizes, seed }: Form): StudyDocument {
  const document = plainStudy();
  document.groups = shares.map((share, index) => ({ id: `g${index}`, name: `Group ${index}`, share }));
  document.settings.seed = seed;
  document.runningOrder = brackets.map(({ arrange, size }, index) => ({
    kind: "bracket",
    id: `b${index}`,
    arrange,
    nodes: Array.from({ length: size }, (_, part) => {
      const page = newPage((prefix) => `${prefix}-${index}-${part}`, `Page ${index} ${part}`);
      document.parts[page.id] = page;
      return { kind: "part", part: page.id };
    }),
  }));
  const allocation: Allocation = { ...document.allocation, method, blockSizes };
  return { ...document, allocation };
}
const arrange = fc.constantFrom<Arrangement>(
  "listed",
  "shuffled",
  "every-order",
  "latin-square",
  "balanced-latin-square",
);
const anyForm = (shares: fc.Arbitrary<number[]>, methods: AllocationMethod[], blockSizes = [[1]]): fc.Arbitrary<Form> =>
  fc.record({
    shares,
    brackets: fc.array(fc.record({ arrange, size: fc.integer({ min: 2, max: 3 }) }), { maxLength: 2 }),
    method: fc.constantFrom(...methods),
    blockSizes: fc.constantFrom(...blockSizes),
    seed: fc.string({ maxLength: 4 }),
  });
const equal = fc.integer({ min: 1, max: 4 }).map((size) => new Array<number>(size).fill(1));
const cellsOf = (document: StudyDocument) =>
  schemeOf(document).flatMap((scheme) =>
    Array.from({ length: scheme.cells }, (_, cell) => cellKey(assignmentTo(scheme, cell))),
  );
const spread = (counts: number[]) => Math.max(...counts) - Math.min(...counts);

describe("who gets what", () => {
  it("fills all cells within one of each other at every moment, whoever breaks off, and gives their places out again", () => {
    const form = anyForm(equal, ["permuted-blocks", "least-filled"]);
    fc.assert(
      fc.property(form, fc.array(fc.nat(99), { minLength: 30, maxLength: 70 }), (form, leaving) => {
        const document = studyOf(form);
        const counts = new Map<string, number>();
        leaving.forEach((chance, index) => {
          const assignment = allocate(document, { participant: index + 1, stratum: "", counts });
          if (chance > 25) counts.set(cellKey(assignment), (counts.get(cellKey(assignment)) ?? 0) + 1);
          expect(spread(cellsOf(document).map((cell) => counts.get(cell) ?? 0))).toBeLessThanOrEqual(1);
        });
      }),
      { numRuns: 150 },
    );
  });

  it("is what was planned as long as nobody breaks off", () => {
    fc.assert(
      fc.property(anyForm(equal, ["permuted-blocks", "least-filled", "by-number"], [[1], [2], [1, 3]]), (form) => {
        const document = studyOf(form);
        const counts = new Map<string, number>();
        for (let participant = 1; participant <= 40; participant++) {
          const assignment = allocate(document, { participant, stratum: "", counts });
          expect(assignment).toEqual(plannedAssignment(document, participant));
          counts.set(cellKey(assignment), (counts.get(cellKey(assignment)) ?? 0) + 1);
        }
      }),
      { numRuns: 100 },
    );
  });

  it("after whole rounds has the groups in their shares, by every method that decides by itself", () => {
    const shares = fc.array(fc.integer({ min: 1, max: 3 }), { minLength: 1, maxLength: 3 });
    fc.assert(
      fc.property(
        anyForm(shares, ["permuted-blocks", "by-number", "least-filled"]),
        fc.integer({ min: 1, max: 4 }),
        (form, rounds) => {
          const document = studyOf(form);
          const round = document.groups.reduce((sum, group) => sum + shareOf(group), 0);
          const sizes = new Map<string, number>();
          for (let participant = 1; participant <= rounds * round; participant++) {
            const { group } = plannedAssignment(document, participant);
            sizes.set(group, (sizes.get(group) ?? 0) + 1);
          }
          for (const group of document.groups) expect(sizes.get(group.id)).toBe(rounds * shareOf(group));
        },
      ),
      { numRuns: 150 },
    );
  });

  it("with blocks of drawn length is never off by more than the longest block", () => {
    fc.assert(
      fc.property(anyForm(equal, ["permuted-blocks"], [[1, 2, 3], [2], [3, 1]]), (form) => {
        const document = studyOf({ ...form, brackets: [] });
        const sizes = new Map(document.groups.map(({ id }) => [id, 0]));
        for (let participant = 1; participant <= 60; participant++) {
          const { group } = plannedAssignment(document, participant);
          sizes.set(group, (sizes.get(group) ?? 0) + 1);
          expect(spread([...sizes.values()])).toBeLessThanOrEqual(Math.max(...form.blockSizes));
        }
      }),
      { numRuns: 100 },
    );
  });

  it("puts odd and even numbers into two groups by number, orders in turn within them", () => {
    const document = studyOf({
      shares: [1, 1],
      brackets: [{ arrange: "latin-square", size: 3 }],
      method: "by-number",
      blockSizes: [1],
      seed: "s",
    });
    const assignments = Array.from({ length: 12 }, (_, index) => plannedAssignment(document, index + 1));
    expect(assignments.map(({ group }) => group)).toEqual(Array.from({ length: 12 }, (_, index) => `g${index % 2}`));
    expect(assignments.map(({ orders }) => orders.b0)).toEqual([0, 0, 1, 1, 2, 2, 0, 0, 1, 1, 2, 2]);
  });

  it("keeps to a group that is asked for, and fills its orders evenly", () => {
    const document = studyOf({
      shares: [1, 1],
      brackets: [{ arrange: "every-order", size: 3 }],
      method: "by-experimenter",
      blockSizes: [1],
      seed: "s",
    });
    const counts = new Map<string, number>();
    for (let participant = 1; participant <= 14; participant++) {
      const assignment = allocate(document, { participant, stratum: "", counts, group: "g1" });
      expect(assignment.group).toBe("g1");
      counts.set(cellKey(assignment), (counts.get(cellKey(assignment)) ?? 0) + 1);
    }
    expect(counts.size).toBe(6);
    expect(spread([...counts.values()])).toBe(1);
  });

  it("fills each stratum by itself", () => {
    const document = studyOf({ shares: [1, 1], brackets: [], method: "permuted-blocks", blockSizes: [1], seed: "s" });
    const orders = ["young", "old"].map((stratum) => {
      const counts = new Map<string, number>();
      return Array.from({ length: 40 }, (_, index) => {
        const assignment = allocate(document, { participant: index + 1, stratum, counts });
        counts.set(cellKey(assignment), (counts.get(cellKey(assignment)) ?? 0) + 1);
        return assignment.group;
      }).join();
    });
    expect(orders[0]).not.toBe(orders[1]);
  });
});

describe("beside groups that take nobody more", () => {
  const document = studyOf({
    ...{ shares: [1, 1, 2], method: "permuted-blocks", blockSizes: [1], seed: "AB12" },
    brackets: [{ arrange: "latin-square" as Arrangement, size: 3 }],
  });
  const start = (participant: number, counts: Map<string, number>, group?: string) => ({
    ...{ participant, stratum: "", counts },
    ...(group === undefined ? {} : { group }),
  });

  it("stays as it is due where that group is none of them", () => {
    for (let participant = 1; participant <= 20; participant++) {
      const due = allocate(document, start(participant, new Map()));
      const others = new Set(document.groups.map(({ id }) => id).filter((id) => id !== due.group));
      expect(allocateBeside(document, start(participant, new Map()), others)).toEqual(due);
    }
  });

  it("fills the others by their shares, with their orders as even as ever", () => {
    const counts = new Map<string, number>();
    const inGroup = new Map<string, number>();
    for (let participant = 1; participant <= 90; participant++) {
      const found = allocateBeside(document, start(participant, counts), new Set(["g0"]))!;
      counts.set(cellKey(found), (counts.get(cellKey(found)) ?? 0) + 1);
      inGroup.set(found.group, (inGroup.get(found.group) ?? 0) + 1);
    }
    expect(inGroup.get("g0")).toBeUndefined();
    expect(inGroup.get("g2")! / inGroup.get("g1")!).toBeCloseTo(2, 0);
    for (const group of ["g1", "g2"]) {
      const cells = [...counts].filter(([key]) => key.startsWith(`${group} `)).map(([, count]) => count);
      expect(Math.max(...cells) - Math.min(...cells)).toBeLessThanOrEqual(1);
    }
  });

  it("is nothing where all are, or where the one that was asked for is", () => {
    const all = new Set(document.groups.map(({ id }) => id));
    expect(allocateBeside(document, start(1, new Map()), all)).toBeNull();
    expect(allocateBeside(document, start(1, new Map(), "g1"), new Set(["g1"]))).toBeNull();
    expect(allocateBeside(document, start(1, new Map(), "g1"), new Set(["g0"]))?.group).toBe("g1");
  });
});
