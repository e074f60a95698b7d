import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import type { Block } from "../design/block";
import { partNodes } from "../design/lookup";
import { expectedMinutes, mostMinutes, partMinutes } from "./minutes";

const minutesOf = (change: (block: Block) => void) => {
  const document = withBlock(plainStudy(), change);
  return partMinutes(document, firstBlock(document).id);
};
const trials = (count: number, ms: number) => (count * ms) / 60_000;

describe("how long a part takes", () => {
  it("is what its scenes are planned for, with half a second for an answer", () => {
    // Two rows, three passes; 500 ms fixation.
    expect(minutesOf(({ order }) => void (order.passes = 3))).toBeCloseTo(trials(6, 1000), 9);
  });

  it("counts the half second from where the answer's window opens", () => {
    const opensWithFixation = minutesOf(({ answers, scenes }) => void (answers[0]!.opensWith = scenes[0]!.id));
    expect(opensWithFixation).toBeCloseTo(trials(2, 500), 9);
  });

  it("leaves out what is shown only in practice where the block is none", () => {
    const told = (isPractice: boolean) =>
      minutesOf((block) => {
        block.practice = isPractice;
        const when = { left: { from: { builtIn: "block.practice" as const } }, is: "=" as const, right: true };
        block.scenes.push({ ...block.scenes[0]!, id: "told", name: "told", when });
      });
    expect(told(true)).toBeCloseTo(trials(2, 1500), 9);
    expect(told(false)).toBeCloseTo(trials(2, 1000), 9);
  });
});

describe("what is repeated until good enough", () => {
  it("makes a range, from once to all attempts, and pages that only rules show add nothing by themselves", () => {
    const document = withBlock(plainStudy(), (block, copy) => {
      const [welcome] = copy.runningOrder;
      copy.runningOrder = copy.runningOrder.slice(1);
      if (welcome?.kind === "part") copy.runningOrder.push({ ...welcome, aside: true });
      block.criterion = {
        looked: "pass-end",
        rightShare: 1,
        over: "all",
        trials: 2,
        attempts: 3,
        otherwise: "go-on",
        before: welcome?.kind === "part" ? welcome.part : "",
      };
    });
    const { id } = firstBlock(document);
    const aside = document.runningOrder.flatMap((node) => (node.kind === "part" && node.aside ? [node.part] : []))[0]!;
    const once = expectedMinutes(document);
    expect(mostMinutes(document) - once).toBeCloseTo(
      2 * partMinutes(document, id) + 2 * partMinutes(document, aside),
      9,
    );
  });
});

describe("how long a session takes", () => {
  const document = plainStudy();
  const { id } = firstBlock(document);

  it("is the sum of its parts", () => {
    const pages = Object.values(document.parts).filter(({ kind }) => kind === "page");
    const sum = partMinutes(document, id) + pages.reduce((all, page) => all + partMinutes(document, page.id), 0);
    expect(expectedMinutes(document)).toBeCloseTo(sum, 9);
  });

  it("takes what was measured of a part in place of what is planned", () =>
    expect(expectedMinutes(document, { [id]: 10 }) - expectedMinutes(document)).toBeCloseTo(
      10 - partMinutes(document, id),
      9,
    ));
});

it("is told of each sitting by the parts it has, and of all together", () => {
  const document = plainStudy();
  const own = partNodes(document.runningOrder).find(({ part }) => part === firstBlock(document).id)!;
  document.sittings = ["one", "two"].map((id) => ({ id, name: id, reminder: "" }));
  own.onlySittings = ["two"];
  const [all, first, second] = [null, 1, 2].map((sitting) => expectedMinutes(document, {}, sitting));
  expect(second! - first!).toBeCloseTo(partMinutes(document, own.part), 9);
  expect(all).toBeCloseTo(second!, 9);
  expect(mostMinutes(document, {}, 1)).toBeCloseTo(first!, 9);
});
