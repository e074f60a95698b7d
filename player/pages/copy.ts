import { facts } from "../facts";
import { make, saveFile } from "./page";

/** Saves a page as a file of the participant's own: the study, the moment, its texts and what was answered. */
export function saveCopy(pieces: (HTMLElement | null)[]): void {
  const { title, language, direction } = facts();
  const page = make("main", "");
  page.append(make("h1", "", title), make("p", "", new Date().toLocaleString(language)));
  for (const piece of pieces) if (piece) page.append(piece.cloneNode(true));
  // What plays, or comes from elsewhere, is not in a file of words.
  for (const each of page.querySelectorAll("img, audio, video, iframe, button, input")) each.remove();
  for (const each of [page, ...page.querySelectorAll("*")]) each.removeAttribute("class");
  const head = `<!doctype html><html lang="${language}" dir="${direction}"><meta charset="utf-8"><title></title>`;
  const file = new Blob([head, page.outerHTML, "</html>"], { type: "text/html" });
  saveFile(`${title.replace(/[^\p{L}\p{N}]+/gu, "-").slice(0, 60)}.html`, file);
}
