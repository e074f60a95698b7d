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
