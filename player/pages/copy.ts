import { facts } from "../facts";
import { make, saveFile } from "./page";

/** Saves a page as a file of the participant's own: the study, the moment, its texts and what was answered. */
export function saveCopy(pieces: (HTMLElement | null)[]): void {
  const { title, language, direction } = facts();
  const copy = document.implementation.createHTMLDocument(title);
  const coded = copy.createElement("meta");
  coded.setAttribute("charset", "utf-8");
  copy.head.prepend(coded);
  Object.assign(copy.documentElement, { lang: language, dir: direction });
  copy.body.append(make("h1", "", title), make("p", "", new Date().toLocaleString(language)));
  for (const piece of pieces) if (piece) copy.body.append(piece.cloneNode(true));
  // What plays, or comes from elsewhere, is not in a file of words.
  for (const each of copy.body.querySelectorAll("img, audio, video, iframe, button, input")) each.remove();
  for (const each of copy.body.querySelectorAll("[class]")) each.removeAttribute("class");
  const file = new Blob(["<!doctype html>", copy.documentElement.outerHTML], { type: "text/html" });
  saveFile(`${title.replace(/[^\p{L}\p{N}]+/gu, "-").slice(0, 60)}.html`, file);
}
