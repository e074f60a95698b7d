import { blocksInOrder } from "../design/lookup";
import { measuresOf, mediaOf } from "../design/item-needs";
import { mediaKind, type MediaKind } from "../design/media-types";
import {
  isBinding,
  type ArrayItem,
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

/** Scenes that never end, durations and sizes that are no numbers, media that are missing, arrays too full. */
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
        answer.counts === "first" &&
        answer.by.some((device) => device.device !== "keys" || device.keys.length > 0)
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
  if (lasts.kind === "media-end" && !scene.items.some(({ kind }) => kind === "sound" || kind === "video"))
    findings.push({
      level: "error",
      where,
      message: "It lasts until its sounds and videos end, but it has none. Add one, or let it last otherwise.",
      place,
    });
  const ms = lasts.kind === "ms" ? lasts.ms : lasts.kind === "until-answer" ? lasts.atMostMs : undefined;
  if (ms !== undefined) findings.push(...numbers(ms, "its duration", 0, where, place, contexts));
  for (const item of scene.items) {
    const at = `${where.replace(/ “[^”]*”$/, "")}, item “${item.name}”`;
    const itemPlace = { ...place, item: item.id };
    for (const { what, value, least } of measuresOf(item))
      if (isBinding(value)) findings.push(...numbers(value, what, least, at, itemPlace, contexts));
    for (const { kind, value } of mediaOf(item))
      findings.push(...media(document, value, kind, at, itemPlace, contexts));
    if (item.kind === "web" && item.page.from === "address")
      findings.push(...elsewhere(item.page.address, at, itemPlace, contexts));
    if (item.kind === "array") findings.push(...fullArrays(item, at, itemPlace, contexts));
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

function media(
  document: StudyDocument,
  value: Bindable<string>,
  kind: MediaKind,
  where: string,
  place: Finding["place"],
  contexts: RowContext[],
): Finding[] {
  const known = new Set(document.media.filter(({ mime }) => mediaKind(mime) === kind).map(({ id }) => id));
  const error = (message: string, at: Finding["place"]): Finding[] => [{ level: "error", where, message, place: at }];
  if (!isBinding(value)) {
    if (known.has(value)) return [];
    return value === ""
      ? error(`It has no ${kind} yet. Choose one in the margin.`, place)
      : error(`Its ${kind} “${value}” is missing. Choose another or add it again.`, place);
  }
  const bad = contexts.find(({ context }) => !known.has(String(resolve(value, context) ?? "")));
  if (!bad) return [];
  const found = resolve(value, bad.context);
  return error(
    `In row ${bad.number} its ${kind} ${found === null ? "is an empty cell" : `“${found}” is missing`}. Choose one in the table.`,
    { ...place, row: bad.row, ...columnOf(value) },
  );
}

/** Pages at addresses: they are not part of the study, and a trial has to reach them. */
function elsewhere(
  address: Bindable<string>,
  where: string,
  place: Finding["place"],
  contexts: RowContext[],
): Finding[] {
  const isAddress = (text: Scalar | null) => typeof text === "string" && /^https?:\/\/[^\s/]+/.test(text);
  const bad = isBinding(address)
    ? contexts.find(({ context }) => !isAddress(resolve(address, context)))
    : isAddress(address)
      ? undefined
      : null;
  if (bad === undefined)
    return [
      {
        level: "warning",
        where,
        message:
          "It shows a page from an address elsewhere: that needs the network in the middle of a session, and can change after the release. Add the page to the study as HTML or zip, and it is loaded and checked before the session begins.",
        place,
      },
    ];
  const row = bad === null ? "Its" : `In row ${bad.number} its`;
  return [
    {
      level: "error",
      where,
      message:
        address === ""
          ? "It has no page yet. Type an address that begins with https://, or choose a page of the study."
          : `${row} address is no address of a web page. Type one that begins with https:// or http://.`,
      place: bad === null || !isBinding(address) ? place : { ...place, row: bad.row, ...columnOf(address) },
    },
  ];
}

/** Arrays that cannot hold as many elements as they are to have. */
function fullArrays(item: ArrayItem, where: string, place: Finding["place"], contexts: RowContext[]): Finding[] {
  const bad = contexts.find(({ context }) => {
    const number = (value: Bindable<number>) => resolveNumber(value, context) ?? 0;
    const [count, element] = [number(item.count), number(item.element)];
    const [w, h] = [number(item.size.w) - element, number(item.size.h) - element];
    if (item.arrangement === "grid") return count > item.across * item.upright;
    // Random placing jams at about 55 % of the area that discs of the least distance could cover.
    const room = (w + item.distance) * (h + item.distance);
    return item.arrangement === "scattered" && (count * Math.PI * item.distance ** 2) / 4 > 0.5 * room;
  });
  if (!bad) return [];
  return [
    {
      level: "warning",
      where,
      message: `In row ${bad.number} its ${resolve(item.count, bad.context)} elements may not all find a place. Give it a larger field, ${item.arrangement === "grid" ? "more cells" : "a smaller least distance"} or fewer elements.`,
      place: { ...place, row: bad.row },
    },
  ];
}

const columnOf = ({ from }: Binding) => ("column" in from ? { column: from.column } : {});
