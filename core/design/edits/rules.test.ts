import { describe, expect, it } from "vitest";
import { countedIds, firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { preflight } from "../../check/preflight";
import type { Rule } from "../../rules/rule";
import { usesOfVariable } from "../uses-of-rules";
import { migrate } from "../migrations/registry";
import { parseStudy } from "../parse";
import { readyRules } from "../ready-rules";
import { carriedRulesFrom, packedRules, unpackedRules } from "./carry-rules";
import { merge } from "../merge";
import { packed, unpacked } from "./carry";
import { applyEdit } from "./edit";
import { copyScene } from "./scenes";
import { addRules, addVariable, moveRule, removeRule, setRule, setVariable } from "./rules";

const place = (document: ReturnType<typeof plainStudy>) => ({ part: firstBlock(document).id, scene: null });
const rule = (id: string): Rule => ({ id, name: "", when: { on: "trial-ends" }, do: [{ do: "end-trial" }] });

describe("edits of rules", () => {
  it("add, change, move and remove, in blocks, scenes and the study", () => {
    const document = plainStudy();
    const block = firstBlock(document);
    const scene = { part: block.id, scene: block.scenes[0]!.id };
    const whole = { part: null, scene: null };
    let made = document;
    for (const edit of [
      addRules(place(document), rule("a"), rule("b"), rule("c")),
      moveRule(place(document), "c", -2),
      setRule(place(document), "b", { off: true, name: "second" }),
      removeRule(place(document), "a"),
      addRules(scene, rule("s")),
      addRules(whole, rule("w")),
    ])
      made = applyEdit(made, edit).document;
    expect(firstBlock(made).rules.map(({ id, off }) => [id, off])).toEqual([
      ["c", undefined],
      ["b", true],
    ]);
    expect(firstBlock(made).scenes[0]?.rules?.map(({ id }) => id)).toEqual(["s"]);
    expect(made.rules.map(({ id }) => id)).toEqual(["w"]);
    expect(parseStudy(structuredClone(made)).ok).toBe(true);
  });

  it("rename a variable without touching what uses it, and tell where it is used", () => {
    const ready = readyRules(plainStudy(), firstBlock(plainStudy()))[1]!;
    const document = applyEdit(plainStudy(), ready.make(countedIds()).edit).document;
    const [variable] = document.variables;
    const renamed = applyEdit(document, setVariable(variable!.id, { name: "shells" })).document;
    expect(firstBlock(renamed).rules).toEqual(firstBlock(document).rules);
    expect(usesOfVariable(renamed, variable!.id)).toEqual(["rule 1 of block “Block 1”", "rule 2 of block “Block 1”"]);
  });
});

describe("ready rules", () => {
  it("are whole: nothing is to be mended in a study that has them all", () => {
    const newId = countedIds();
    const base = withBlock(plainStudy(), (_, document) => {
      document.media = [
        { id: "m", name: "gull.wav", sha256: "0".repeat(64), mime: "audio/wav", bytes: 10, ms: 100 } as never,
      ];
    });
    let document = base;
    for (let index = 0; index < readyRules(base, firstBlock(base)).length; index++) {
      const ready = readyRules(document, firstBlock(document))[index]!;
      expect(ready.missing).toBeNull();
      document = applyEdit(
        document,
        ready.make((prefix) => `${prefix}-x${newId("")}`.replace("--", "-")).edit,
      ).document;
    }
    const parsed = parseStudy(structuredClone(document));
    expect(parsed.ok ? [] : parsed.mistakes).toEqual([]);
    expect(preflight(document).filter(({ level }) => level === "error")).toEqual([]);
    expect(firstBlock(document).rules.length).toBeGreaterThan(6);
  });
});

describe("rules that are copied", () => {
  it("bring their variables along, and find scenes and answers by their names", () => {
    const newId = countedIds();
    const source = applyEdit(
      withBlock(plainStudy(), (block) => {
        block.rules = [
          {
            id: "r",
            name: "",
            when: { on: "scene-begins", scene: block.scenes[1]!.id },
            do: [{ do: "add", what: { variable: "v" }, to: { from: { variable: "v" } } }],
          },
        ];
      }),
      addVariable({ id: "v", name: "shells", type: "number", start: 0 }),
    ).document;
    const text = JSON.stringify(packedRules(source, "code", place(source), firstBlock(source).rules));
    expect(carriedRulesFrom("anything")).toBeNull();
    const carried = carriedRulesFrom(text)!;
    const target = withBlock(plainStudy(), (block) => void (block.scenes[1]!.id = "elsewhere"));
    firstBlock(target).answers[0]!.opensWith = firstBlock(target).answers[0]!.closesWith = "elsewhere";
    const { document } = applyEdit(target, unpackedRules(target, place(target), carried, newId).edit);
    expect(document.variables.map(({ name }) => name)).toEqual(["shells"]);
    const [made] = firstBlock(document).rules;
    expect(made).toMatchObject({
      when: { on: "scene-begins", scene: "elsewhere" },
      do: [{ what: { variable: document.variables[0]!.id }, to: { from: { variable: document.variables[0]!.id } } }],
    });
    // Once more into the same study: the variable is there.
    const again = applyEdit(document, unpackedRules(document, place(document), carried, newId).edit).document;
    expect(again.variables).toHaveLength(1);
    expect(firstBlock(again).rules).toHaveLength(2);
  });
});

describe("a scene with rules", () => {
  const withRule = withBlock(plainStudy(), (block, document) => {
    document.variables = [{ id: "v", name: "shells", type: "number", start: 0 }];
    const [scene] = block.scenes;
    scene!.rules = [
      {
        id: "r",
        name: "",
        when: { on: "scene-begins", scene: scene!.id },
        do: [
          { do: "item", item: scene!.items[0]!.id, property: "x", to: 3 },
          { do: "add", what: { variable: "v" }, to: 1 },
        ],
      },
    ];
  });
  const [original] = firstBlock(withRule).scenes;
  const speaksOf = (document: typeof withRule, scene: string) => {
    const block = firstBlock(document);
    const found = block.scenes.find(({ id }) => id === scene)!;
    const [made] = found.rules ?? [];
    expect(made?.id).not.toBe("r");
    expect(made?.when).toEqual({ on: "scene-begins", scene });
    expect(made?.do[0]).toMatchObject({ item: found.items[0]!.id });
    expect(found.items[0]!.id).not.toBe(original!.items[0]!.id);
  };

  it("is copied with rules that speak of the copy", () => {
    const copied = applyEdit(
      withRule,
      copyScene(firstBlock(withRule).id, original!.id, "copy", (prefix) => `${prefix}-new`),
    ).document;
    speaksOf(copied, "copy");
    expect(parseStudy(structuredClone(copied)).ok).toBe(true);
  });

  it("is taken to another study with its rules and their variables", () => {
    const carried = JSON.parse(
      JSON.stringify(packed(withRule, "code", firstBlock(withRule), original!.items, original!)),
    ) as Parameters<typeof unpacked>[3];
    let count = 0;
    const newId = (prefix: string) => `${prefix}-there${++count}`;
    const target = plainStudy();
    const put = unpacked(target, firstBlock(target), null, carried, newId);
    const { document } = applyEdit(target, put.edit);
    expect(document.variables.map(({ name }) => name)).toEqual(["shells"]);
    const [made] = firstBlock(document).scenes.find(({ id }) => id === put.scene)!.rules!;
    expect(made!.do).toEqual([
      { do: "item", item: put.items[0], property: "x", to: 3 },
      { do: "add", what: { variable: document.variables[0]!.id }, to: 1 },
    ]);
  });
});

describe("two windows", () => {
  it("may each add a variable of one name: the later is called anew, and the study can be saved", () => {
    const add = (id: string) => (of: ReturnType<typeof plainStudy>) =>
      applyEdit(of, addVariable({ id, name: "points", type: "number", start: 0 })).document;
    const base = plainStudy();
    const { document } = merge(base, add("mine")(base), add("theirs")(base));
    expect(document.variables.map(({ name }) => name)).toEqual(["points", "points_2"]);
    expect(parseStudy(structuredClone(document)).ok).toBe(true);
  });
});

describe("a study of version 5", () => {
  it("has no rules and no criterion, and its variables stay", () => {
    const before = JSON.parse(JSON.stringify({ ...plainStudy(), version: 5 })) as Record<string, unknown>;
    delete before["rules"];
    const parts = before["parts"] as Record<string, Record<string, unknown>>;
    for (const part of Object.values(parts)) {
      if (part["kind"] === "page") delete part["rules"];
      else
        Object.assign(part, {
          rules: [{ id: "r", name: "old" }],
          criterion: { rightShare: 0.8, overTrials: 4, atMostPasses: 2 },
        });
    }
    before["variables"] = [{ id: "v", name: "left", type: "key", start: "f" }];
    const parsed = parseStudy(migrate(before, 5));
    if (!parsed.ok) throw new Error(parsed.mistakes.join("\n"));
    expect(parsed.document.rules).toEqual([]);
    expect(firstBlock(parsed.document).criterion).toBeUndefined();
    expect(parsed.document.variables).toEqual([{ id: "v", name: "left", type: "text", start: "f" }]);
  });
});
