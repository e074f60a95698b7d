import chisquareCdf from "@stdlib/stats-base-dists-chisquare-cdf";
import { describe, expect, it } from "vitest";
import { pageOf, question } from "~/tests/support/forms";
import { planForm, plannedQuestions } from "./forms";

const options = ["a", "b", "c", "d"].map((id) => ({ id, label: id }));
const last = { id: "z", label: "none of these", last: true as const };
const plans = (page: ReturnType<typeof pageOf>, count: number) =>
  Array.from({ length: count }, (_, index) => planForm(page, "seed", index + 1));

describe("what is drawn of a page", () => {
  it("shows each order of options equally often, with those kept last where they are", () => {
    const page = pageOf("p", [question("one-of", "which", { options: [...options, last], order: "shuffled" })]);
    const seen = new Map<string, number>();
    for (const { orders } of plans(page, 4800)) {
      const order = orders["q-which"] ?? [];
      expect(order.at(-1)).toBe("z");
      seen.set(order.join(""), (seen.get(order.join("")) ?? 0) + 1);
    }
    expect(seen.size).toBe(24);
    const statistic = [...seen.values()].reduce((sum, count) => sum + (count - 200) ** 2 / 200, 0);
    expect(chisquareCdf(statistic, 23)).toBeLessThan(0.999);
  });

  it("rotates options: each begins about equally often, and their sequence stays", () => {
    const page = pageOf("p", [question("one-of", "which", { options, order: "rotated" })]);
    const firsts = new Map<string, number>();
    for (const { orders } of plans(page, 2000)) {
      const order = orders["q-which"] ?? [];
      expect("abcdabcd").toContain(order.join(""));
      firsts.set(order[0] ?? "", (firsts.get(order[0] ?? "") ?? 0) + 1);
    }
    const statistic = [...firsts.values()].reduce((sum, count) => sum + (count - 500) ** 2 / 500, 0);
    expect(chisquareCdf(statistic, 3)).toBeLessThan(0.999);
  });

  it("asks each question of a list equally often over participants", () => {
    const questions = Array.from({ length: 10 }, (_, index) => question("scale", `i${index}`));
    const page = pageOf("p", [{ kind: "set", id: "set", name: "List", questions, take: 3, order: "shuffled" }]);
    const asked = new Map<string, number>();
    for (const form of plans(page, 30)) {
      const drawn = plannedQuestions(page, form);
      expect(new Set(drawn.map(({ id }) => id)).size).toBe(3);
      for (const { id } of drawn) asked.set(id, (asked.get(id) ?? 0) + 1);
    }
    expect([...asked.values()]).toEqual(Array(10).fill(9));
  });

  it("stays what it was when another question comes or goes", () => {
    const which = question("one-of", "which", { options, order: "shuffled" });
    const alone = planForm(pageOf("p", [which]), "seed", 7).orders["q-which"];
    const other = question("ranking", "rank", { order: "shuffled" });
    expect(planForm(pageOf("p", [other, which]), "seed", 7).orders["q-which"]).toEqual(alone);
  });
});
