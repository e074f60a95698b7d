import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { anyStudy, firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { plannedAssignment } from "../allocate/allocate";
import { blocksInOrder } from "../design/lookup";
import { compile, compileBlock, type Plan } from "./compile";
import { outline } from "./compile";

const planOf = (document: Parameters<typeof compile>[0], participant = 1): Plan =>
  compile(document, participant, document.settings.seed, plannedAssignment(document, participant).group);
const rowsOf = (plan: Plan, part: string) =>
  plan.parts.flatMap((each) => (each.kind === "block" && each.part === part ? each.trials.map(({ row }) => row) : []));

describe("compile", () => {
  it("gives the same plan for the same input, and never changes the document", () => {
    fc.assert(
      fc.property(anyStudy, fc.integer({ min: 1, max: 500 }), (document, participant) => {
        const before = structuredClone(document);
        expect(planOf(document, participant)).toEqual(planOf(structuredClone(document), participant));
        expect(document).toEqual(before);
      }),
      { numRuns: 60 },
    );
  });

  it("plays every row as often as its copies say, in every pass", () => {
    fc.assert(
      fc.property(anyStudy, (document) => {
        const plan = planOf(document);
        for (const block of blocksInOrder(document)) {
          if (block.order.method === "with-replacement") continue;
          const part = plan.parts.find((each) => each.part === block.id);
          if (part?.kind !== "block") throw new Error("no such block in the plan");
          for (let pass = 1; pass <= block.order.passes; pass++)
            for (const row of block.table.rows)
              expect(part.trials.filter((trial) => trial.pass === pass && trial.row === row.id)).toHaveLength(
                row.copies,
              );
        }
      }),
    );
  });

  it("numbers trials through the session without gaps", () => {
    fc.assert(
      fc.property(anyStudy, (document) => {
        const plan = planOf(document);
        const numbers = plan.parts.flatMap((part) =>
          part.kind === "block" ? part.trials.map(({ trial }) => trial) : [],
        );
        expect(numbers).toEqual(Array.from({ length: plan.trialCount }, (_, index) => index + 1));
        expect(outline(document, { ...plan, sitting: 1 })).toEqual({
          parts: plan.parts.map(({ part }) => part),
          trialCount: plan.trialCount,
        });
      }),
    );
  });

  it("draws random durations on their steps and within their bounds", () => {
    fc.assert(
      fc.property(anyStudy, (document) => {
        for (const part of planOf(document).parts) {
          if (part.kind === "page") continue;
          for (const { lasts, id } of firstBlock(document).scenes) {
            if (lasts.kind !== "random-ms") continue;
            for (const { drawn } of part.trials) {
              expect(drawn[id]).toBeGreaterThanOrEqual(lasts.from);
              expect(drawn[id]).toBeLessThanOrEqual(lasts.to);
              expect(((drawn[id] ?? 0) - lasts.from) % lasts.step).toBeCloseTo(0, 9);
            }
          }
        }
      }),
    );
  });

  it("keeps the order of one block when another is edited", () => {
    fc.assert(
      fc.property(anyStudy, (document) => {
        const [first, ...others] = blocksInOrder(document);
        const edited = structuredClone(document);
        const changed = edited.parts[first!.id]!;
        if (changed.kind !== "block") throw new Error("not a block");
        changed.order.passes += 1;
        changed.table.rows.push({ id: "new", copies: 2, cells: {} });
        for (const other of others)
          expect(rowsOf(planOf(edited), other.id)).toEqual(rowsOf(planOf(document), other.id));
      }),
      { numRuns: 60 },
    );
  });

  it("keeps the order of rows when a scene's random duration is edited", () => {
    const document = plainStudy();
    const id = firstBlock(document).id;
    const edited = withBlock(
      document,
      (block) => (block.scenes[0]!.lasts = { kind: "random-ms", from: 100, to: 900, step: 7 }),
    );
    expect(rowsOf(planOf(edited), id)).toEqual(rowsOf(planOf(document), id));
  });

  it("plays rows as listed where that is asked for", () => {
    const document = withBlock(plainStudy(), (block) => {
      block.order = { method: "as-listed", passes: 2, limits: [] };
      block.table.rows[0]!.copies = 2;
    });
    const [a, b] = firstBlock(document).table.rows.map(({ id }) => id);
    expect(rowsOf(planOf(document), firstBlock(document).id)).toEqual([a, a, b, a, a, b]);
  });

  it("fills columns by their cases, also from group values", () => {
    const document = withBlock(plainStudy(), (block, copy) => {
      copy.groups = [
        { id: "g1", name: "one" },
        { id: "g2", name: "two" },
      ];
      copy.groupValues = [{ id: "left", name: "left_key", type: "key", perGroup: { g1: "a", g2: "l" } }];
      const [word, key] = block.table.columns;
      key!.cases = {
        by: [word!.id],
        when: [{ is: ["gull"], gives: { from: { groupValue: "left" } } }],
        otherwise: "x",
      };
    });
    const key = firstBlock(document).table.columns[1]!.id;
    const answers = (group: string) => {
      const part = compile(document, 1, "s", group).parts[1];
      return part?.kind === "block"
        ? part.trials.map(({ rowNumber, values }) => `${rowNumber}${String(values[key])}`).toSorted()
        : [];
    };
    expect(answers("g1")).toEqual(["1a", "2x"]);
    expect(answers("g2")).toEqual(["1l", "2x"]);
  });
});

it("plans one block alone as it is in the whole", () => {
  fc.assert(
    fc.property(anyStudy, fc.integer({ min: 1, max: 20 }), (document, participant) => {
      const group = plannedAssignment(document, participant).group;
      for (const part of compile(document, participant, "s", group).parts) {
        const block = document.parts[part.part];
        if (part.kind !== "block" || block?.kind !== "block") continue;
        const alone = compileBlock(document, block, participant, "s", group);
        expect(alone?.rows.map((_, index) => alone.at(index))).toEqual(part.trials);
        // Also one by one, in any order.
        const backwards = [...part.trials.keys()].reverse();
        expect(backwards.map((index) => alone?.at(index))).toEqual(part.trials.toReversed());
      }
    }),
  );
});

describe("streams of random numbers", () => {
  const many = withBlock(plainStudy(), (block) => {
    block.order.passes = 3;
    block.scenes[0]!.lasts = { kind: "random-ms", from: 100, to: 900, step: 1 };
  });
  const trialsOf = (document: Parameters<typeof compile>[0], part = firstBlock(many).id) => {
    const found = compile(document, 5, "s", document.groups[0]!.id).parts.find((each) => each.part === part);
    return found?.kind === "block" ? found.trials : [];
  };
  const drawn = (document: Parameters<typeof compile>[0]) =>
    trialsOf(document).map((trial) => Object.values(trial.drawn));

  it("a limit, another order or another column leave the drawn durations as they were", () => {
    const limited = withBlock(many, (block) =>
      block.order.limits.push({ kind: "longest-run", columns: [block.table.columns[0]!.id], most: 2 }),
    );
    const listed = withBlock(many, (block) => void (block.order.method = "as-listed"));
    const wider = withBlock(many, (block) =>
      block.table.columns.push({ id: "more", name: "more", type: "text", factor: false }),
    );
    for (const changed of [limited, listed, wider]) expect(drawn(changed)).toEqual(drawn(many));
  });

  it("another pass, another block and another group leave the trials there were as they were", () => {
    const longer = withBlock(many, (block) => void (block.order.passes = 4));
    expect(trialsOf(longer).slice(0, 6)).toEqual(trialsOf(many));
    const other = withBlock(many, (block, copy) => {
      copy.parts["other"] = { ...structuredClone(block), id: "other", name: "Other" };
      copy.runningOrder.push({ kind: "part", part: "other" });
      copy.groups.push({ id: "late", name: "Late" });
    });
    expect(trialsOf(other)).toEqual(trialsOf(many));
    expect(trialsOf(other, "other").map(({ row }) => row)).not.toEqual(trialsOf(many).map(({ row }) => row));
  });

  it("the plain shuffle of earlier releases is what it was", () => {
    expect(
      trialsOf(withBlock(plainStudy(), (block) => void (block.order.passes = 6)))
        .map(({ rowNumber }) => rowNumber)
        .join(""),
    ).toBe("121221211212");
  });

  it("the drawn durations of earlier releases are what they were", () => {
    expect(drawn(many).flat()).toEqual([505, 289, 798, 225, 412, 828]);
  });
});
