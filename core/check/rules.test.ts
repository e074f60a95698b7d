import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import { newPage } from "../design/page";
import type { Action } from "../rules/action";
import { newCriterion, type Criterion } from "../rules/criterion";
import type { Rule } from "../rules/rule";
import type { Trigger } from "../rules/trigger";
import { preflight } from "./preflight";
import { byGuessing } from "./rules";

const study = (change: (block: Block, document: StudyDocument) => void) =>
  withBlock(plainStudy(), (block, document) => {
    document.variables = [{ id: "v", name: "tally_now", type: "number", start: 0 }];
    change(block, document);
  });
const rule = (when: Trigger, ...does: Action[]): Rule => ({ id: "r", name: "", when, do: does });
const add: Action = { do: "add", what: { variable: "v" }, to: 1 };
const messages = (document: StudyDocument, level = "error") =>
  preflight(document).flatMap((finding) => (finding.level === level ? [`${finding.where}: ${finding.message}`] : []));

describe("preflight of rules", () => {
  it("has nothing to say of sound ones", () => {
    const document = study((block) => void (block.rules = [rule({ on: "answer", how: "right" }, add)]));
    expect([...messages(document), ...messages(document, "warning")]).toEqual([]);
  });

  it.each<[string, Rule, RegExp]>([
    ["a scene", rule({ on: "scene-begins", scene: "gone" }, add), /waits for a scene that has been removed/],
    ["an item", rule({ on: "pointer", act: "press", item: "gone" }, add), /waits for an item/],
    ["a question", rule({ on: "question", question: "gone" }, add), /waits for a question/],
    ["a variable it waits for", rule({ on: "variable", variable: "gone" }, add), /waits for a variable/],
    [
      "a variable it sets",
      rule({ on: "trial-ends" }, { ...add, what: { variable: "gone" } } as Action),
      /changes a variable/,
    ],
    [
      "an item it changes",
      rule({ on: "trial-begins" }, { do: "item", item: "gone", property: "x", to: 1 }),
      /changes an item/,
    ],
    ["a sound", rule({ on: "trial-ends" }, { do: "sound", file: "gone", volume: 100 }), /plays a sound/],
    ["a scene it goes to", rule({ on: "trial-begins" }, { do: "go-to-scene", scene: "gone" }), /goes to a scene that/],
    ["a page", rule({ on: "trial-ends" }, { do: "page", page: "gone" }), /shows a page/],
    ["a part", rule({ on: "trial-ends" }, { do: "go-to-part", part: "gone" }), /goes to a part that has been removed/],
    [
      "a value",
      { ...rule({ on: "trial-ends" }, add), if: { left: { from: { variable: "gone" } }, is: "=", right: 1 } },
      /variable that has been removed/,
    ],
  ])("names %s that is gone", (_, one, message) => {
    const found = messages(study((block) => void (block.rules = [one])));
    expect(found).toHaveLength(1);
    expect(found[0]).toMatch(message);
    expect(found[0]).toMatch(/rule 1/);
  });

  it("says nothing of rules that are switched off", () => {
    const off: Rule = { ...rule({ on: "scene-begins", scene: "gone" }, add), off: true };
    expect(messages(study((block) => void (block.rules = [off])))).toEqual([]);
  });

  it("finds what can never happen, goes back, or goes on for ever", () => {
    const never = study((block) => {
      delete block.answers[0]!.right;
      block.rules = [rule({ on: "answer", how: "wrong" }, add)];
    });
    expect(messages(never)[0]).toMatch(/No answer is wrong here/);
    const back = study((block, document) => {
      const first = document.runningOrder[0];
      block.rules = [rule({ on: "trial-ends" }, { do: "go-to-part", part: first?.kind === "part" ? first.part : "" })];
    });
    expect(messages(back)[0]).toMatch(/a session goes only forward/);
    const circle = study((block) => {
      const scene = block.scenes[1]!.id;
      block.rules = [rule({ on: "scene-ends", scene }, { do: "go-to-scene", scene: block.scenes[0]!.id })];
    });
    expect(messages(circle)[0]).toMatch(/goes back to “fixation” each time/);
    const own = study((block) => void (block.rules = [rule({ on: "variable", variable: "v" }, add)]));
    expect(messages(own)[0]).toMatch(/sets itself off for ever/);
    const two = study((block, document) => {
      document.variables.push({ id: "w", name: "other", type: "number", start: 0 });
      block.rules = [
        { ...rule({ on: "variable", variable: "v" }, { do: "set", what: { variable: "w" }, to: 1 }), id: "a" },
        { ...rule({ on: "variable", variable: "w" }, { do: "set", what: { variable: "v" }, to: 1 }), id: "b" },
      ];
    });
    expect(messages(two)).toHaveLength(2);
    const endless = study(
      (block) => void (block.rules = [rule({ on: "trial-begins" }, { ...add, repeat: { everyMs: 50 } })]),
    );
    expect(messages(endless, "warning")[0]).toMatch(/repeats without end/);
    const itself = study((_, document) => {
      const page = Object.values(document.parts).find(({ kind }) => kind === "page")!;
      page.rules = [rule({ on: "part-ends" }, { do: "page", page: page.id })];
    });
    expect(messages(itself)[0]).toMatch(/its own page again and again/);
  });

  it("keeps the participant’s code out of variables", () => {
    const document = study((_, copy) => {
      copy.variables[0]!.from = { urlParameter: "participant" };
    });
    expect(messages(document)[0]).toMatch(/is the participant’s code/);
  });

  it("notes a page that only rules show and none does", () => {
    const document = study((_, copy) => {
      copy.parts["aside"] = { ...newPage((prefix) => prefix, "Aside"), id: "aside" };
      copy.runningOrder.push({ kind: "part", part: "aside", aside: true });
    });
    expect(messages(document, "note").some((note) => /Only rules show it, and none does/.test(note))).toBe(true);
  });
});

describe("preflight of what is repeated until good enough", () => {
  const repeated = (change: Partial<Criterion>) =>
    study((block) => {
      block.table.rows.forEach((row) => (row.copies = 10));
      block.criterion = { ...newCriterion, ...change };
    });

  it("names what cannot be reached or is gone", () => {
    expect(messages(repeated({}))).toEqual([]);
    expect(messages(repeated({ trials: 21 }))[0]).toMatch(/looks at 21 trials, and an attempt has 20/);
    expect(messages(repeated({ before: "gone" }))[0]).toMatch(/page before another attempt has been removed/);
    expect(messages(repeated({ each: "gone" }))[0]).toMatch(/column that has been removed/);
    const noRight = repeated({});
    delete firstBlock(noRight).answers[0]!.right;
    expect(messages(noRight)[0]).toMatch(/No answer is right or wrong there/);
  });

  it("tells how often guessing reaches it where it is looked at after every trial", () => {
    expect(
      messages(repeated({ trials: 4, rightShare: 0.75 }), "note").some((note) => /Somebody who guesses/.test(note)),
    ).toBe(true);
    expect(messages(repeated({ looked: "pass-end", trials: 4 }), "note").some((note) => /guesses/.test(note))).toBe(
      false,
    );
  });

  it("works that chance out exactly", () => {
    // One window: 2 of 2 by a coin.
    expect(byGuessing(2, 2, 2)).toBeCloseTo(0.25, 12);
    // Two heads in a row somewhere in three tosses: HHx, THH.
    expect(byGuessing(2, 2, 3)).toBeCloseTo(3 / 8, 12);
    // 11 or 12 of 12.
    expect(byGuessing(11, 12, 12)).toBeCloseTo(13 / 4096, 12);
    expect(byGuessing(3, 4, 3)).toBe(0);
  });
});
