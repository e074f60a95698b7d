import { perCent } from "./per-cent";
import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import type { Action, ActionKind, ActionOf, Target } from "../rules/action";
import type { Criterion } from "../rules/criterion";
import { neededRight } from "../rules/criterion";
import type { Trigger, TriggerKind } from "../rules/trigger";
import type { Operand } from "../values/calculation";
import type { FormattedText } from "../values/formatted-text";
import type { Id, Value } from "../values/ref";
import { conditionInWords, operandInWords } from "./words";

/** Where a rule stands, for the names of what it speaks of. */
export type Of = { document: StudyDocument; block: Block | null; isOfStudy?: boolean };

const gone = "something that is gone";
const quoted = (name: string | undefined) => (name === undefined ? gone : `“${name}”`);
const sceneName = ({ block }: Of, id: Id) => quoted(block?.scenes.find((scene) => scene.id === id)?.name);
const answerName = ({ block }: Of, id: Id) => quoted(block?.answers.find((answer) => answer.id === id)?.name);
const itemName = ({ block }: Of, id: Id) =>
  quoted(block?.scenes.flatMap(({ items }) => items).find((item) => item.id === id)?.name);
const partName = ({ document }: Of, id: Id) => quoted(document.parts[id]?.name);
const fileName = ({ document }: Of, id: Id) => quoted(document.media.find((file) => file.id === id)?.name);
const variableName = ({ document }: Of, id: Id) => document.variables.find((each) => each.id === id)?.name ?? gone;
const targetName = (of: Of, what: Target) => ("points" in what ? "points" : variableName(of, what.variable));
const value = (of: Of, operand: Operand) => operandInWords(operand, of.document, of.block);
const textOf = (text: FormattedText) =>
  text.map(({ runs }) => runs.map((run) => ("text" in run ? run.text : "…")).join("")).join(" ");

type TriggerOf<K extends TriggerKind> = Extract<Trigger, { on: K }>;
const answerHow = {
  given: "an answer is given",
  right: "an answer is right",
  wrong: "an answer is wrong",
  none: "no answer came",
  early: "an answer comes too early",
};
const keyActs = { press: "is pressed", release: "is let go", hold: "is held" };
const pointerActs = { press: "is pressed", enter: "is entered by the pointer", leave: "is left by the pointer" };
const windowActs = {
  "focus-lost": "the window loses the focus",
  "focus-back": "the window has the focus again",
  "full-screen-left": "full screen is left",
};
/** A key by its position, as people call it: `KeyB` is B, `Digit3` is 3. */
export const placeInWords = (code: string): string =>
  code.replace(/^(Key|Digit)(?=.$)/, "").replace(/^Arrow(.+)$/, (_, way: string) => `${way.toLowerCase()} arrow`);

const triggers: { [K in TriggerKind]: (trigger: TriggerOf<K>, of: Of) => string } = {
  "session-begins": () => "the session begins",
  "session-ends": () => "the session ends",
  "part-begins": (_, { block, isOfStudy }) =>
    isOfStudy ? "a part begins" : block ? "the block begins" : "the page is shown",
  "part-ends": (_, { block, isOfStudy }) => (isOfStudy ? "a part ends" : block ? "the block ends" : "the page is left"),
  "trial-begins": () => "a trial begins",
  "trial-ends": () => "a trial ends",
  "scene-begins": ({ scene }, of) => `${scene === undefined ? "a scene" : `the scene ${sceneName(of, scene)}`} begins`,
  "scene-ends": ({ scene }, of) => `${scene === undefined ? "a scene" : `the scene ${sceneName(of, scene)}`} ends`,
  answer: ({ how, answer }, of) =>
    answerHow[how] + (answer === undefined ? "" : ` (${answerName(of, answer).replace(/[“”]/g, "")})`),
  key: ({ key, act, heldMs }) =>
    `the key ${placeInWords(key)} ${keyActs[act]}${act === "hold" ? ` for ${heldMs ?? 500} ms` : ""}`,
  pointer: ({ act, item }, of) => `${item === undefined ? "an item" : itemName(of, item)} ${pointerActs[act]}`,
  scroll: () => "the participant scrolls",
  media: ({ what, item }, of) =>
    `${item === undefined ? "a sound or video" : itemName(of, item)} ${what === "begins" ? "begins" : "comes to its end"}`,
  message: ({ item, says }, of) =>
    `${item === undefined ? "a web page" : itemName(of, item)} sends ${says === undefined ? "a message" : `“${says}”`}`,
  question: ({ question }, { document }) =>
    question === undefined ? "a question is answered" : `${quoted(nameOfQuestion(document, question))} is answered`,
  variable: ({ variable }, of) => `${variableName(of, variable)} changes`,
  window: ({ what }) => windowActs[what],
  leave: () => "the participant asks to leave",
};

function nameOfQuestion({ parts }: StudyDocument, id: Id): string | undefined {
  for (const part of Object.values(parts)) {
    if (part.kind !== "page") continue;
    for (const piece of part.flow) {
      if (piece.id === id && "name" in piece) return piece.name;
      if (piece.kind === "set") {
        const found = piece.questions.find((question) => question.id === id);
        if (found) return found.name;
      }
    }
  }
  return undefined;
}

/** What sets a rule off, after “When”. */
export function triggerInWords(trigger: Trigger, of: Of): string {
  const says = (triggers[trigger.on] as (trigger: Trigger, of: Of) => string)(trigger, of);
  const after = "afterMs" in trigger ? trigger.afterMs : undefined;
  return after ? `${says} and ${after} ms have passed` : says;
}

export const propertiesInWords: Record<ActionOf<"item">["property"], string> = {
  shown: "whether it is shown",
  x: "its horizontal place",
  y: "its vertical place",
  w: "its width",
  h: "its height",
  turned: "its turn",
  opacity: "its opacity",
  color: "its colour",
  text: "its text",
  picture: "its picture",
};
const shownAs = (to: Operand): string | null =>
  to === true || to === "yes" ? "show" : to === false || to === "no" ? "hide" : null;

const doing: { [K in ActionKind]: (action: ActionOf<K>, of: Of) => string } = {
  set: ({ what, to }, of) => `set ${targetName(of, what)} to ${value(of, to)}`,
  add: ({ what, to }, of) => `add ${value(of, to)} to ${targetName(of, what)}`,
  append: ({ variable, to }, of) => `add ${value(of, to)} to the list ${variableName(of, variable)}`,
  draw: ({ from, what }, of) => `take one at random out of ${variableName(of, from)} into ${variableName(of, what)}`,
  item: ({ item, property, to }, of) => {
    const shown = property === "shown" ? shownAs(to) : null;
    if (property === "picture" && typeof to === "string")
      return `set the picture of ${itemName(of, item)} to ${fileName(of, to)}`;
    if (shown) return `${shown} ${itemName(of, item)}`;
    return `set ${propertiesInWords[property].replace(/^its/, "the")} of ${itemName(of, item)} to ${value(of, to)}`;
  },
  sound: ({ file }, of) => `play ${fileName(of, file)}`,
  media: ({ item, act, volume }, of) =>
    act === "volume"
      ? `set the volume of ${itemName(of, item)} to ${value(of, volume ?? 100)} %`
      : `${act} ${itemName(of, item)}`,
  "next-scene": () => "go on to the next scene",
  "go-to-scene": ({ scene }, of) => `go to the scene ${sceneName(of, scene)}`,
  "end-trial": () => "end the trial",
  "repeat-trial": ({ afterTrials, most }) =>
    `show the trial again ${afterTrials === undefined ? "at the end of the block" : `after ${afterTrials} other${afterTrials === 1 ? "" : "s"}`}, ${most} times at most`,
  "end-block": () => "end the block",
  "begin-block-again": ({ most }) => `begin the block again, ${most} times at most`,
  "go-to-part": ({ part }, of) => `go to ${partName(of, part)}`,
  "end-session": ({ as, text }) =>
    `end the session as ${as === "finished" ? "finished" : "screened out"}${text.length > 0 ? ` and say “${textOf(text)}”` : ""}`,
  page: ({ page }, of) => `show the page ${partName(of, page)} and come back`,
  event: ({ name, value: operand }, of) =>
    `write the event “${name}”${operand === undefined ? "" : ` with ${value(of, operand)}`}`,
  marker: ({ marker }) => `send the marker “${marker}”`,
  script: ({ gives }, of) =>
    gives.length === 0
      ? "run a script"
      : `run a script for ${gives.map(({ variable }) => variableName(of, variable)).join(", ")}`,
  ask: ({ service, sends, gives }, of) => {
    const name = of.document.services.find(({ id }) => id === service)?.name ?? "a service that is gone";
    const sent = sends.length === 0 ? "" : `, telling it ${sends.map((each) => each.name).join(", ")}`;
    const taken = gives.map(({ variable }) => variableName(of, variable));
    return `ask ${name}${taken.length === 0 ? "" : ` for ${taken.join(", ")}`}${sent}`;
  },
};

/** What an action does, without when. */
export const actionInWords = (action: Action, of: Of): string =>
  (doing[action.do] as (action: Action, of: Of) => string)(action, of);

/** When an action is done, after what it does: nothing where it is at once. */
export function timingInWords({ afterMs = 0, repeat }: Action, of: Of): string {
  const late = afterMs > 0 ? ` after ${afterMs} ms` : "";
  if (!repeat) return late;
  const times = repeat.times === undefined ? "" : `, ${repeat.times} times`;
  const until = repeat.until ? `, until ${conditionInWords(repeat.until, of.document, of.block)}` : "";
  return `${late}, every ${repeat.everyMs} ms${times}${until}`;
}

/** What was done, for the data: the action, and what it came to. */
export function doneInWords(action: Action | undefined, gave: Value | null | undefined, of: Of): string {
  if (!action) return "";
  const plain = Array.isArray(gave) ? gave.join("; ") : gave === null ? "empty" : String(gave);
  if (gave === undefined) return actionInWords(action, of);
  if (action.do === "set" || action.do === "add") return `${targetName(of, action.what)} = ${plain}`;
  if (action.do === "append") return `${variableName(of, action.variable)} = ${plain}`;
  if (action.do === "draw") return `${variableName(of, action.what)} = ${plain}`;
  if (action.do === "item")
    return `${itemName(of, action.item)}: ${action.property} = ${action.property === "picture" ? fileName(of, plain) : plain}`;
  if (action.do === "event") return `${action.name} = ${plain}`;
  return `${actionInWords(action, of)} (${plain})`;
}

/** What a criterion asks of trials: “at least 85 % of the last 12 trials are right”. */
export function criterionInWords(criterion: Criterion, { block }: Of): string {
  const { rightShare, medianMs, over, trials, each } = criterion;
  const which = over === "last" ? `the last ${trials} trials` : `all trials, at least ${trials},`;
  const right =
    rightShare === undefined
      ? []
      : [
          `at least ${perCent(rightShare)} of ${which} are right${over === "last" ? ` (${neededRight(rightShare, trials)} of ${trials})` : ""}`,
        ];
  const fast =
    medianMs === undefined
      ? []
      : [`the median time of right answers in ${which.replace(/,$/, "")} is at most ${medianMs} ms`];
  const levels =
    each === undefined
      ? ""
      : `, for each ${block?.table.columns.find(({ id }) => id === each)?.name ?? gone} by itself`;
  return [...right, ...fast].join(" and ") + levels;
}
