import type { Entry } from "~/core/run/entry";
import { filledIn, type Wording, type WordingName } from "~/core/wording/names";

/** What the server wrote into the page. */
const { join, closed, asksWord, perBrowser, entry } = JSON.parse(
  document.getElementById("facts")?.textContent ?? "{}",
) as {
  join: string;
  closed: string | null;
  asksWord: boolean;
  perBrowser: number | null;
  entry: Entry;
};
/** Whether one can begin by the link. */
const isOpen = closed === null;
export { asksWord, closed, isOpen, join };

/** How often somebody has begun by this link in this browser, as far as it remembers. */
const begunKey = `begun:${join}`;
const begunHere = (): number => Number(localStorage.getItem(begunKey)) || 0;
export const noteBegun = (): void => {
  if (perBrowser !== null) localStorage.setItem(begunKey, String(begunHere() + 1));
};
/** Whether nobody can begin in this browser any more. */
export const isUsedUp = (): boolean => perBrowser !== null && begunHere() >= perBrowser;

let present: Entry = entry;
/** What is known of the study's entry; of a rehearsal only once its session is there. */
export const facts = (): Entry => present;

/** The code with which this session goes on at another computer, where it can. */
export const goOn: { code: string | null } = { code: null };

/** Takes over language, colours and wording of a study that was not known when the page was made. */
export function become(known: Entry): void {
  present = known;
  document.documentElement.lang = known.language;
  document.documentElement.dir = known.direction;
  document.body.style.setProperty("--stage-color", known.stageColor);
  document.body.style.setProperty("--text-color", known.textColor);
}

/** A text in the study's wording, with its values filled in. */
export const words = (name: WordingName, values: Record<string, string | number> = {}): string =>
  filledIn((present.wording as Partial<Wording>)[name] ?? "", values);
