import { expect, it } from "vitest";
import { countedIds, firstBlock, plainStudy } from "~/tests/support/studies";
import { newPage, type Page, type Piece } from "../design/page";
import type { StudyDocument } from "../design/document";
import { pageOf, question, studyOfPages } from "~/tests/support/forms";
import { newScene } from "../design/scene";
import { differencesInWords, subjectOfPath, valueInWords } from "./differences";
import { applyEdit, type Edit } from "../design/edits/edit";
import { addPart, removePart, setOrder, setPart } from "../design/edits/parts";
import { moveNode } from "../design/edits/running-order";
import { listedParts } from "../design/lookup";
import { newCriterion } from "../rules/criterion";
import { addRules, addVariable, setCriterion } from "../design/edits/rules";
import { addScene, removeItems, setAnswer, setItem, setScene } from "../design/edits/scenes";
import { addPool, removeRows, setCells, setDraws, setColumn, setCopies } from "../design/edits/table";
import { addGroup, setAbout, setSettings, setTitle } from "../design/edits/study";
import { pathInWords } from "../design/path-in-words";

const whole = firstBlock(plainStudy());
const { id: block } = whole;
const [fixation, target] = whole.scenes;
const [word] = whole.table.columns;
const [first, second] = whole.table.rows;
const cross = fixation!.items[0]!.id;
const addedRule = addRules(
  { part: block, scene: null },
  { id: "r", name: "", when: { on: "trial-ends" }, do: [{ do: "end-trial" }] },
);
const goods = { id: "pool-1", name: "Goods", table: { columns: [], rows: [] } };
const fromGoods = { pool: "pool-1", takes: { is: "value" as const, column: "c" }, where: [], once: "block" as const };
it.each<[string, Edit, string[]]>([
  ["nothing", () => undefined, []],
  ["a rule", addedRule, ["Block 1: rule 1 added."]],
  ["a pool", addPool(goods), ["Pool Goods added."]],
  [
    "a column that draws",
    setDraws(block, word!.id, fromGoods),
    [
      "Block 1: column word: what is drawn changed.",
      "Block 1: row 1: word gull → empty.",
      "Block 1: row 2: word ferry → empty.",
    ],
  ],
  ["a variable", addVariable({ id: "v", name: "shells", type: "number", start: 0 }), ["Variable shells added."]],
  [
    "repetition",
    setCriterion(block, newCriterion),
    ["Block 1: until good enough: at least 85 % of the last 12 trials are right (11 of 12)."],
  ],
  ["the title", setTitle("Lights"), ["Title: “Lights”."]],
  ["a part", setOrder(block, { passes: 2 }), ["Block 1: 1 → 2 passes."]],
  ["a name", setPart(block, { name: "Boats" }), ["Block 1 renamed to Boats."]],
  ["the order", moveNode(block, listedParts(plainStudy().runningOrder)[0] ?? "", null), ["Order of parts changed."]],
  ["a new part", addPart({ ...newPage(countedIds(), "Tea"), id: "tea" }, null), ["Tea added."]],
  ["a part gone", removePart(block), ["Block 1 removed."]],
  ["groups", addGroup({ id: "late", name: "Late" }), ["Groups changed."]],
  ["the seed", setSettings({ seed: "ZZ" }), ["Seed drawn anew."]],
  ["the description", setAbout({ description: "Which light?" }), ["Description changed."]],
  ["the language", setAbout({ language: "de" }), ["Language changed."]],
  [
    "a duration",
    setScene(block, fixation!.id, { lasts: { kind: "ms", ms: 400 } }),
    ["Block 1, fixation: 500 ms → 400 ms."],
  ],
  ["a scene's name", setScene(block, target!.id, { name: "boat" }), ["Block 1: scene target renamed to boat."]],
  ["a scene more", addScene(block, newScene(countedIds(), "mud"), target!.id), ["Block 1: scene mud added."]],
  [
    "an item's place",
    setItem(block, fixation!.id, cross, { at: { x: 4, y: 0 } }),
    ["Block 1, fixation: cross, position x 0 → 4."],
  ],
  [
    "a binding",
    setItem(block, fixation!.id, cross, { fill: { from: { column: word!.id } } }),
    ["Block 1, fixation: cross, fill transparent → word."],
  ],
  ["an item gone", removeItems(block, fixation!.id, [cross]), ["Block 1, fixation: cross removed."]],
  [
    "a cell",
    setCells(block, [{ row: first!.id, column: word!.id, value: "tern" }]),
    ["Block 1: row 1: word gull → tern."],
  ],
  ["copies", setCopies(block, [{ row: second!.id, copies: 3 }]), ["Block 1: row 2: copies 1 → 3."]],
  ["rows", removeRows(block, [first!.id]), ["Block 1: 1 row removed."]],
  ["a column's name", setColumn(block, word!.id, { name: "boat" }), ["Block 1: column word renamed to boat."]],
  [
    "the answer",
    setAnswer(block, whole.answers[0]!.id, { counts: "last" }),
    ["Block 1, answer: which answer counts changed."],
  ],
  ["settings", setSettings({ fullScreen: true }), ["Settings changed."]],
])("what differs after a change of %s is said in words", (_, edit, sentences) => {
  expect(differencesInWords(plainStudy(), applyEdit(plainStudy(), edit).document)).toEqual(sentences);
});

it.each([
  [`parts.${block}.scenes[1].items[0].size.w`, "block “Block 1”, scene 2, item “word”: size, width"],
  [`parts.${block}.table.rows[1].copies`, "block “Block 1”, row 2: copies"],
  [`parts.${block}.table.columns[0]`, "block “Block 1”, column “word”"],
  ["groups[0].name", "group “Everyone”: name"],
  ["settings.stageColor", "settings, stage colour"],
  ["parts.gone.body", "part “gone”: text"],
  ["", "the study"],
])("the path %s is %s", (path, words) => expect(pathInWords(plainStudy(), path)).toBe(words));

it("says where a place two people changed is, and what each set", () => {
  expect(subjectOfPath(plainStudy(), ["parts", block, "scenes", fixation!.id, "lasts", "ms"])).toBe(
    "Block 1, fixation: duration milliseconds",
  );
  expect([valueInWords(undefined), valueInWords({ kind: "ms", ms: 500 }), valueInWords(true)]).toEqual([
    "removed",
    "500",
    "yes",
  ]);
});

it("tells what became of a page's questions, texts and scores", () => {
  const page = (flow: Piece[]) => studyOfPages([pageOf("p", flow)]);
  const effort = question("scale", "effort");
  const before = page([effort, question("number", "age")]);
  const after: StudyDocument = {
    ...page([question("one-of", "bird"), { ...effort, name: "strain", need: "must" }]),
    scores: [{ id: "s", name: "total", of: "sum", from: [{ question: effort.id }], atLeast: 1 }],
  };
  expect(differencesInWords(before, after)).toEqual([
    "Page p: question bird added.",
    "Page p: question effort renamed to strain.",
    "Page p: question strain: whether it must be answered changed.",
    "Page p: question age removed.",
    "Score total added.",
  ]);
  expect(
    differencesInWords(after, { ...after, parts: page([...(after.parts["p"] as Page).flow].reverse()).parts }),
  ).toEqual(["Page p: order changed."]);
});
