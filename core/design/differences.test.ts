import { expect, it } from "vitest";
import { countedIds, firstBlock, plainStudy } from "~/tests/support/studies";
import { newPage } from "./defaults";
import { differencesInWords } from "./differences";
import { applyEdit, type Edit } from "./edits/edit";
import { addPart, movePart, removePart, setOrder, setPart } from "./edits/parts";
import { addGroup, setAbout, setSettings, setTitle } from "./edits/study";
import { placeInWords } from "./places";

const block = firstBlock(plainStudy()).id;
it.each<[string, Edit, string[]]>([
  ["nothing", () => undefined, []],
  ["the title", setTitle("Lights"), ["Title: “Lights”."]],
  ["a part", setOrder(block, { passes: 2 }), ["Block 1 changed."]],
  ["a name", setPart(block, { name: "Boats" }), ["Block 1 renamed to Boats."]],
  ["the order", movePart(block, 0), ["Order of parts changed."]],
  ["a new part", addPart({ ...newPage(countedIds(), "Tea"), id: "tea" }, null), ["Tea added."]],
  ["a part gone", removePart(block), ["Block 1 removed."]],
  ["groups", addGroup({ id: "late", name: "Late" }), ["Groups changed."]],
  ["the seed", setSettings({ seed: "ZZ" }), ["Seed drawn anew."]],
  ["the description", setAbout({ description: "Which light?" }), ["Description changed."]],
  ["the language", setAbout({ language: "de" }), ["Language changed."]],
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
])("the path %s is %s", (path, words) => expect(placeInWords(plainStudy(), path)).toBe(words));
