import type { ShownEnd } from "../collect/ends";
import type { Suited } from "../collect/suited";
import type { Participation } from "../design/participation";
import type { StudyDocument } from "../design/document";
import { looksAtDevice } from "../values/device";
import type { Wording } from "../wording/names";
import { directionOf, wordingFor } from "../wording/wording";

/** What is public about a study before a session starts: all its entry page needs, and nothing of its design. */
export type Entry = {
  title: string;
  language: string;
  direction: "ltr" | "rtl";
  stageColor: string;
  textColor: string;
  fullScreen: boolean;
  wording: Wording;
  /** Its player tells what device it is on. */
  looksAtDevice: boolean;
  /** It has several sittings of a person: whoever opens the link again may come for the next one. */
  comesAgain: boolean;
} & Pick<Participation, "welcome" | "contact" | "ownCode" | "checks" | "elsewhere" | "others" | "withdrawn">;

/** What the page of a link shows. */
export type LinkEntry = {
  entry: Entry;
  /** What is said where nobody can begin by it: sessions can go on by it all the same; null where one can. */
  closed: string | null;
  /** Where they are led then, with the code they are shown: null for nowhere. */
  end: ShownEnd | null;
  asksWord: boolean;
  /** It is one person's own. */
  isPersonal: boolean;
  /** How often one can begin in one browser; null for as often as one likes. */
  perBrowser: number | null;
  /** On what one can take part by it, which the player looks at; null for on anything. */
  on: Suited | null;
  /** What is said, in the study's own words, to those who cannot on what they came with; empty for those of its language. */
  unsuited: string;
};

export function entryInto(document: StudyDocument): Entry {
  const { title, language, settings } = document;
  const { stageColor, textColor, fullScreen, participation } = settings;
  const { welcome, contact, ownCode, checks, elsewhere, others, withdrawn, wording } = participation;
  return {
    title,
    language,
    direction: directionOf(language),
    stageColor,
    textColor,
    fullScreen,
    wording: wordingFor(language, wording),
    welcome,
    contact,
    ownCode,
    checks,
    elsewhere,
    others: others === true,
    withdrawn,
    looksAtDevice: looksAtDevice(document),
    comesAgain: document.sittings.length > 1,
  };
}
