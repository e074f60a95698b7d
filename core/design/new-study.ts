import type { NewId } from "../values/ref";
import { plainText } from "../values/formatted-text";
import { freshAllocation } from "./allocation";
import { newBlock } from "./block";
import type { Part, StudyDocument } from "./document";
import { newPage, type Page } from "./page";
import { newSettings } from "./settings";
import { currentVersion } from "./version";

/** A study of these parts in their order, for one group of participants. */
export const studyOf = (newId: NewId, title: string, seed: string, parts: readonly Part[]): StudyDocument => ({
  format: "lapwing-study",
  version: currentVersion,
  title,
  description: "",
  language: "en",
  groups: [{ id: newId("group"), name: "Everyone" }],
  groupValues: [],
  variables: [],
  rules: [],
  pools: [],
  services: [],
  sittings: [],
  scores: [],
  runningOrder: parts.map(({ id }) => ({ kind: "part", part: id })),
  parts: Object.fromEntries(parts.map((part) => [part.id, part])),
  media: [],
  allocation: freshAllocation,
  settings: newSettings(seed),
});

/** A study that can be tried at once: one group, a welcome, one block, an ending. */
export function newStudy(newId: NewId, title: string, seed: string): StudyDocument {
  const welcome: Page = {
    ...newPage(
      newId,
      "Welcome",
      plainText("Welcome, and thank you for taking part.\nPress the button when you are ready."),
    ),
  };
  const block = newBlock(newId, "Block 1");
  const ending: Page = {
    ...newPage(newId, "Goodbye", plainText("That was all. Thank you.")),
    continueLabel: "Finish",
  };
  return studyOf(newId, title, seed, [welcome, block, ending]);
}
