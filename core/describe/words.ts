import { builtInNames } from "../design/names";
import { resolve, type Context } from "../run/resolve";
import {
  isBinding,
  type AnswerSpec,
  type Bindable,
  type Block,
  type Condition,
  type Lasts,
  type Ref,
  type Scalar,
  type StudyDocument,
} from "../design/types";

/** The name a reference has at present; null when what it names is gone. */
export function refName(ref: Ref, document: StudyDocument, block: Block | null): string | null {
  if ("column" in ref) return block?.table.columns.find(({ id }) => id === ref.column)?.name ?? null;
  if ("groupValue" in ref) return document.groupValues.find(({ id }) => id === ref.groupValue)?.name ?? null;
  if ("variable" in ref) return document.variables.find(({ id }) => id === ref.variable)?.name ?? null;
  return Object.hasOwn(builtInNames, ref.builtIn) ? ref.builtIn : null;
}

const number = (value: number) => value.toLocaleString("en");
const inWords = (value: Bindable<Scalar>, document: StudyDocument, block: Block | null) =>
  isBinding(value)
    ? (refName(value.from, document, block) ?? "?")
    : typeof value === "number"
      ? number(value)
      : String(value);

/** How long a scene lasts, as it stands beside it in the figure. */
export function durationInWords(lasts: Lasts, document: StudyDocument, block: Block): string {
  switch (lasts.kind) {
    case "ms":
      return `${inWords(lasts.ms, document, block)} ms`;
    case "random-ms":
      return `${number(lasts.from)}–${number(lasts.to)} ms, drawn`;
    case "media-end":
      return "until its media end";
    case "until-answer":
      return lasts.atMostMs === undefined
        ? "until answer"
        : `until answer, at most ${inWords(lasts.atMostMs, document, block)} ms`;
  }
}

/** A scene's duration in few signs, for where there is little room: `400–800`, `≤ 1350`. */
export function shortDuration(lasts: Lasts, context: Context): string {
  switch (lasts.kind) {
    case "ms":
      return String(resolve(lasts.ms, context) ?? "?");
    case "random-ms":
      return `${lasts.from}–${lasts.to}`;
    case "until-answer":
      return lasts.atMostMs === undefined ? "answer" : `≤ ${resolve(lasts.atMostMs, context) ?? "?"}`;
    case "media-end":
      return "media";
  }
}

/** By what an answer is given in the shown trial, for example `F or J`, `far or near button`, `typed text`. */
export function answerInWords(answer: AnswerSpec, block: Block, context: Context): string {
  const items = block.scenes.flatMap((scene) => scene.items);
  const nameOf = (id: string) => items.find((item) => item.id === id)?.name ?? "something that is gone";
  const each = answer.by.flatMap((device): string[] => {
    switch (device.device) {
      case "keys": {
        const act = device.act === "press" ? "" : device.act === "hold" ? ` held ${device.holdMs} ms` : " let go";
        return device.keys.map((key) => keyLabel(String(resolve(key, context) ?? "?")) + act);
      }
      case "pointer":
        return device.targets.map((target) => ("item" in target ? nameOf(target.item) : target.region));
      case "typed":
        return [`text in ${nameOf(device.item)}`];
      case "slider":
        return [`${nameOf(device.item)} set`];
      case "web":
        return [`value of ${nameOf(device.item)}`];
    }
  });
  if (each.length === 0) return answer.by[0]?.device === "keys" ? "no key yet" : "no way yet";
  return each.length > 4 ? `${each.slice(0, 3).join(", ")} or ${each.length - 3} more` : each.join(" or ");
}

export function conditionInWords(condition: Condition, document: StudyDocument, block: Block | null): string {
  if ("all" in condition) return condition.all.map((each) => conditionInWords(each, document, block)).join(" and ");
  if ("any" in condition) return condition.any.map((each) => conditionInWords(each, document, block)).join(" or ");
  if ("not" in condition) return `not (${conditionInWords(condition.not, document, block)})`;
  const side = (value: typeof condition.left) => (value === null ? "empty" : inWords(value, document, block));
  return `${side(condition.left)} ${condition.is} ${side(condition.right)}`;
}

/** `f` as `F`; named keys as they are. */
export const keyLabel = (key: string): string =>
  key.length === 1 ? key.toUpperCase() : key.replace(/^Arrow/, "arrow ");
