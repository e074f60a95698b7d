import { object } from "../shape/compound";
import { oneOf, text, whole, yesNo } from "../shape/plain";
import { optional, type Of, type Shape } from "../shape/shape";
import { wordingNames, type WordingName } from "../wording/names";

const pixels = whole(100, 10_000);
const ownTexts: Shape<Partial<Record<WordingName, string>>> = object(
  Object.fromEntries(Object.keys(wordingNames).map((name) => [name, optional(text({ most: 2000 }))])),
);

const participationFields = object({
  /** Said on the entry page below the title, one paragraph a line. */
  welcome: text({ most: 10_000 }),
  /** Whom participants can contact, shown on the entry page and wherever something cannot continue. */
  contact: text({ most: 1000 }),
  /** Whether participants type a code of their own at the entry. A code that comes with the link is not asked for. */
  ownCode: oneOf("none", "may", "must"),
  /** What is checked before anything is loaded. */
  checks: object({
    /** Smallest window, in CSS pixels. */
    smallest: optional(object({ width: pixels, height: pixels })),
    keyboard: yesNo,
    sound: yesNo,
  }),
  /** Whether a session can continue on another computer, with the participant's code. */
  elsewhere: yesNo,
  /** Whether another person can start on a computer where someone has started or finished, as in a laboratory. */
  others: optional(yesNo),
  /** Whether a trial in which focus or full screen is lost is finished, or broken off and repeated. */
  interrupted: oneOf("finish", "redo"),
  /** What happens to the records of someone who leaves for good. */
  withdrawn: oneOf("keep", "remove"),
  /** So many days after a wave was closed, or its last session, participants' codes and browsers are removed; kept where this is left out. */
  namesKeptDays: optional(whole(1, 3650)),
  /** So many years after that, the sessions of the wave are removed with all their answers; kept where this is left out. */
  answersKeptYears: optional(whole(1, 100)),
  /** Own wording of participants' pages, by the text's name; the rest is as shipped in the study's language. */
  wording: ownTexts,
});
/** The participant's way around the parts of the study, from the link to the goodbye. */
export interface Participation extends Of<typeof participationFields> {}
export const participation: Shape<Participation> = participationFields;

/** A new study's settings for this: no more than the link, the study and thanks. */
export const newParticipation = (): Participation => ({
  welcome: "",
  contact: "",
  ownCode: "none",
  checks: { keyboard: false, sound: false },
  elsewhere: false,
  interrupted: "finish",
  withdrawn: "keep",
  wording: {},
});
