import { blocksInOrder } from "../design/lookup";
import { isPlayed, measuresOf, mediaOf } from "../items/item";
import { mediaKind, type MediaKind } from "../media/types";
import { isBinding, type Bindable, type Binding, type Scalar } from "../values/ref";
import type { Block } from "../design/block";
import type { Scene } from "../design/scene";
import type { StudyDocument } from "../design/document";
import { resolve, resolveNumber } from "../values/resolve";
import type { Check, Finding } from "./finding";
import type { RowContext } from "../values/context";
import { rowContexts } from "./row-contexts";
import { isEmptyDevice } from "../devices/device";
import { itemKind } from "../items/registry";

/** Scenes that never end, durations and sizes that are no numbers, media that are missing, arrays too full. */
export const sceneProblems: Check = (document) =>
  blocksInOrder(document).flatMap((block): Finding[] => {
    if (block.scenes.length === 0)
      return [
        {
          level: "error",
          where: `block “${block.name}”`,
          message: "It has no scenes, so its trials show nothing. Add a scene.",
          target: { part: block.id },
        },
      ];
    const contexts = rowContexts(document, block);
    return block.scenes.flatMap((scene, index) => oneScene(document, block, scene, index, contexts));
  });

function oneScene(
  document: StudyDocument,
  block: Block,
  scene: Scene,
  index: number,
  contexts: RowContext[],
): Finding[] {
  const where = `block “${block.name}”, scene ${index + 1} “${scene.name}”`;
  const target = { part: block.id, scene: scene.id };
  const findings: Finding[] = [];
  const { lasts } = scene;
  if (lasts.kind === "until-answer") {
    const covering = block.answers.some((answer) => {
      const [opens, closes] = [answer.opensWith, answer.closesWith].map((id) =>
        block.scenes.findIndex((each) => each.id === id),
      ) as [number, number];
      return (
        opens <= index &&
        index <= closes &&
        answer.onAnswer === "move-on" &&
        answer.counts === "first" &&
        !answer.by.every(isEmptyDevice)
      );
    });
    if (!covering && lasts.atMostMs === undefined)
      findings.push({
        level: "error",
        where,
        message:
          "It waits for an answer, but no answer window covers it, so it would never end. Give it a longest wait, or let an answer window cover it and move on.",
        target,
      });
    else if (lasts.atMostMs === undefined)
      findings.push({
        level: "note",
        where,
        message: "It waits for an answer without a longest wait: a participant who never answers stays here.",
        target,
      });
  }
  if (lasts.kind === "media-end" && !scene.items.some(isPlayed))
    findings.push({
      level: "error",
      where,
      message: "It lasts until its sounds and videos end, but it has none. Add one, or choose another duration.",
      target,
    });
  const ms = lasts.kind === "ms" ? lasts.ms : lasts.kind === "until-answer" ? lasts.atMostMs : undefined;
  if (ms !== undefined) findings.push(...numbers(ms, "its duration", 0, where, target, contexts));
  for (const item of scene.items) {
    const at = `${where.replace(/ “[^”]*”$/, "")}, item “${item.name}”`;
    const itemPlace = { ...target, item: item.id };
    for (const { what, value, least } of measuresOf(item))
      if (isBinding(value)) findings.push(...numbers(value, what, least, at, itemPlace, contexts));
    for (const { kind, value } of mediaOf(item))
      findings.push(...media(document, value, kind, at, itemPlace, contexts));
    for (const { level, message, row, column } of itemKind(item.kind).problems?.(item, contexts) ?? [])
      findings.push({ level, where: at, message, target: { ...itemPlace, row, column } });
  }
  return findings;
}

function numbers(
  value: Bindable<Scalar>,
  what: string,
  least: number,
  where: string,
  target: Finding["target"],
  contexts: RowContext[],
): Finding[] {
  if (!isBinding(value) || "builtIn" in value.from) return [];
  const bad = contexts.find(
    ({ context }) => (resolveNumber(value, context) ?? -Infinity) < least || resolveNumber(value, context) === null,
  );
  if (!bad) return [];
  const found = resolve(value, bad.context);
  return [
    {
      level: "error",
      where,
      message: `In row ${bad.number} ${what} is ${found === null ? "empty" : `“${found}”`}; it needs a number${least > 0 ? " greater than 0" : least === 0 ? ", 0 or more" : ""}.`,
      target: { ...target, row: bad.row, ...columnOf(value) },
    },
  ];
}

function media(
  document: StudyDocument,
  value: Bindable<string>,
  kind: MediaKind,
  where: string,
  target: Finding["target"],
  contexts: RowContext[],
): Finding[] {
  const known = new Set(document.media.filter(({ mime }) => mediaKind(mime) === kind).map(({ id }) => id));
  const error = (message: string, at: Finding["target"]): Finding[] => [{ level: "error", where, message, target: at }];
  if (!isBinding(value)) {
    if (known.has(value)) return [];
    return value === ""
      ? error(`It has no ${kind} yet. Choose one in the margin.`, target)
      : error(`Its ${kind} “${value}” is missing. Choose another or add it again.`, target);
  }
  const bad = contexts.find(({ context }) => !known.has(String(resolve(value, context) ?? "")));
  if (!bad) return [];
  const found = resolve(value, bad.context);
  return error(
    `In row ${bad.number} its ${kind} ${found === null ? "is an empty cell" : `“${found}” is missing`}. Choose one in the table.`,
    { ...target, row: bad.row, ...columnOf(value) },
  );
}

const columnOf = ({ from }: Binding) => ("column" in from ? { column: from.column } : {});
