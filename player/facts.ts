import type { Entry, LinkEntry } from "~/core/run/entry";
import { filledIn, type Wording, type WordingName } from "~/core/wording/names";

/** What the server wrote into the page; `join` is the link's token. */
type Written = LinkEntry & { join: string };
const written = JSON.parse(document.getElementById("facts")?.textContent ?? "{}") as Written;
export const { join, closed, end, asksWord, isPersonal, perBrowser, on, unsuited } = written;

let present: Entry = written.entry;
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
