/** The texts participants read around the parts of a study, by name, with where they stand. `{{…}}` is put in when shown. */
export const wordingNames = {
  start: "button of the entry page",
  questions: "before the contact",
  yourCode: "entry page, where a code is asked for",
  yourCodeOptional: "entry page, where a code can be given",
  codeMissing: "entry page, when no code was typed",
  stoppedBefore: "entry page, on the computer where it was begun",
  goOnThere: "button beside it",
  otherWindow: "when the study is open in another window",
  takeOver: "button beside it",
  otherComputer: "on the computer it was taken from",
  checkWindow: "check of the window; {{width}}, {{height}}, {{widthNow}}, {{heightNow}} in pixels",
  checkKeyboard: "check of the keyboard",
  checkSound: "check of the sound",
  playTones: "button that plays the tones",
  howMany: "question about the tones",
  notThatMany: "when the number was wrong",
  noFullScreen: "where full screen cannot be had",
  loading: "while loading",
  notLoaded: "when something could not be loaded; {{what}} names it",
  forResearcher: "before the code for the researcher",
  noConnection: "when the server cannot be reached at the start",
  tryAgain: "button to try again",
  paused: "title of the pause page",
  lookedAway: "pause page, after another window was in front",
  fullScreenLeft: "pause page, after full screen was left",
  trialAgain: "pause page, when the trial is played again",
  goOn: "button of pauses and breaks",
  leave: "button to leave the study",
  leaveSure: "before leaving for good",
  leaveKept: "before leaving, when the answers are kept",
  leaveRemoved: "before leaving, when the answers are removed",
  stay: "button to stay",
  left: "after leaving",
  leftKept: "after leaving, when the answers are kept",
  leftRemoved: "after leaving, when the answers are removed",
  breakWait: "break; {{seconds}} until one can go on",
  shareDone: "progress; {{share}} in per cent",
  sending: "at the end; {{sent}} and {{all}} count records",
  serverAway: "at the end, while the server cannot be reached",
  saveFile: "button to save the answers as a file",
  fileSaved: "after saving the file",
  done: "title of the last page",
  code: "before the completion code",
  noStorage: "when the browser keeps nothing",
  notOpen: "when the link leads nowhere",
  stopped: "when the study cannot go on",
  pilot: "over a rehearsal",
} as const satisfies Record<string, string>;

export type WordingName = keyof typeof wordingNames;
export type Wording = Record<WordingName, string>;
export const isWordingName = (name: string): name is WordingName => Object.hasOwn(wordingNames, name);

/** A text with its `{{…}}` filled in; what has no value stays empty. */
export const filledIn = (text: string, values: Record<string, string | number>): string =>
  text.replace(/\{\{(\w+)\}\}/g, (_, name: string) => String(values[name] ?? ""));
