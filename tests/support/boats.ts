import { readFileSync } from "node:fs";
import type { Page } from "playwright-core";
import type { Block } from "~/core/design/block";
import type { StudyDocument } from "~/core/design/document";
import { newParticipation } from "~/core/design/participation";
import { parseStudyText } from "~/core/design/parse";
import { scene } from "./participant";
import type { Row } from "./short-study";

/** Boats one to four, shown until F or J; F is right for odd ones. */
export function boats(change: (block: Block, document: StudyDocument) => void): StudyDocument {
  const parsed = parseStudyText(readFileSync("tests/support/eight-trials.lapwing.json", "utf8"));
  if (!parsed.ok) throw new Error(parsed.mistakes.join());
  const { document } = parsed;
  document.settings.participation = newParticipation();
  const block = document.parts["boats"] as Block;
  block.table.columns.push({ id: "key", name: "key", type: "text", factor: false });
  block.table.rows = block.table.rows.slice(0, 4);
  block.table.rows.forEach((row, index) => (row.cells["key"] = index % 2 === 0 ? "f" : "j"));
  block.order = { method: "as-listed", passes: 1, limits: [] };
  const [answer] = block.answers;
  Object.assign(answer!, {
    by: [{ device: "keys", keys: ["f", "j"], by: "letter", act: "press", holdMs: 0 }],
    right: { from: { column: "key" } },
  });
  change(block, document);
  return document;
}
/** Answers one trial after another with these keys; gives the number of the last. */
export async function keys(page: Page, pressed: string, after = 0): Promise<number> {
  let done = after;
  for (const key of pressed) {
    done = await scene(page, "target", done);
    await page.keyboard.press(key);
  }
  return done;
}
/** The cells of some columns of each row, with blanks between. */
export const cells = (rows: Row[] | undefined, ...names: string[]) =>
  (rows ?? []).map((row) => names.map((name) => row[name] ?? "").join(" "));
