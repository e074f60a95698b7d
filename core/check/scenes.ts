import { blocksInOrder } from "../design/lookup";
import {
  isBinding,
  type Bindable,
  type Binding,
  type Block,
  type Scalar,
  type Scene,
  type StudyDocument,
} from "../design/types";
import { resolve, resolveNumber } from "../run/resolve";
import type { Check, Finding } from "./finding";
import { rowContexts, type RowContext } from "./row-contexts";

/** Scenes that never end, durations and sizes that are no numbers, pictures that are missing. */
export const sceneProblems: Check = (document) =>
  blocksInOrder(document).flatMap((block): Finding[] => {
    if (block.scenes.length === 0)
      return [
        {
          level: "error",
          where: `block “${block.name}”`,
          message: "It has no scenes, so its trials show nothing. Add a scene.",
          place: { part: block.id },
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
  const place = { part: block.id, scene: scene.id };
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
        answer.by.some(({ keys }) => keys.length > 0)
      );
    });
    if (!covering && lasts.atMostMs === undefined)
      findings.push({
        level: "error",
        where,
        message:
          "It waits for an answer, but no answer window covers it, so it would never end. Give it a longest wait, or let an answer window cover it and move on.",
        place,
      });
    else if (lasts.atMostMs === undefined)
      findings.push({
        level: "note",
        where,
        message: "It waits for an answer without a longest wait: a participant who never answers stays here.",
        place,
      });
  }
  const ms = lasts.kind === "ms" ? lasts.ms : lasts.kind === "until-answer" ? lasts.atMostMs : undefined;
  if (ms !== undefined) findings.push(...numbers(ms, "its duration", 0, where, place, contexts));
  for (const item of scene.items) {
    const at = `${where.replace(/ “[^”]*”$/, "")}, item “${item.name}”`;
    const itemPlace = { ...place, item: item.id };
    const measures: [string, Bindable<number>, number][] = [
      ["its x", item.at.x, -Infinity],
      ["its y", item.at.y, -Infinity],
    ];
    if (item.kind === "text") measures.push(["its letter size", item.fontSize, 0.01], ["its width", item.width, 0.01]);
    else measures.push(["its width", item.size.w, 0.01], ["its height", item.size.h, 0.01]);
    for (const [what, value, least] of measures)
      if (isBinding(value)) findings.push(...numbers(value, what, least, at, itemPlace, contexts));
    if (item.kind === "image") findings.push(...pictures(document, item.picture, at, itemPlace, contexts));
  }
  return findings;
}

function numbers(
  value: Bindable<Scalar>,
  what: string,
  least: number,
  where: string,
  place: Finding["place"],
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
      place: { ...place, row: bad.row, ...columnOf(value) },
    },
  ];
}

function pictures(
  document: StudyDocument,
  picture: Bindable<string>,
  where: string,
  place: Finding["place"],
  contexts: RowContext[],
): Finding[] {
  const known = new Set(document.media.map(({ id }) => id));
  if (!isBinding(picture)) {
    if (known.has(picture)) return [];
    return [
      {
        level: "error",
        where,
        message:
          picture === ""
            ? "It has no picture yet. Choose one in the margin."
            : `Its picture “${picture}” is missing. Choose another or add it again.`,
        place,
      },
    ];
  }
  const bad = contexts.find(({ context }) => !known.has(String(resolve(picture, context) ?? "")));
  if (!bad) return [];
  const found = resolve(picture, bad.context);
  return [
    {
      level: "error",
      where,
      message: `In row ${bad.number} its picture ${found === null ? "is an empty cell" : `“${found}” is missing`}. Choose one in the table.`,
      place: { ...place, row: bad.row, ...columnOf(picture) },
    },
  ];
}

const columnOf = ({ from }: Binding) => ("column" in from ? { column: from.column } : {});
