import { partsInOrder } from "../design/lookup";
import { propertyInWords } from "../design/path-in-words";
import { same } from "../design/same";
import { ruleName, type Rule } from "../rules/rule";
import { isBinding, type Ref } from "../values/ref";
import { againInWords } from "./following";
import { criterionInWords } from "./rules";
import type { Page } from "../design/page";
import { isQuestion, isSet, questionsOf } from "../design/questions";
import type { TableHolder } from "../values/pool";
import type { Block } from "../design/block";
import type { Lasts, Scene } from "../design/scene";
import type { StudyDocument } from "../design/document";
import { durationInWords, refName } from "./words";

/** What differs between two versions of a study, a sentence each, for example `Near waders, flock: 150 ms → 120 ms.` */
export function differencesInWords(before: StudyDocument, after: StudyDocument): string[] {
  const sentences: string[] = [];
  if (before.title !== after.title) sentences.push(`Title: “${after.title}”.`);
  for (const part of partsInOrder(after)) {
    const old = before.parts[part.id];
    if (!old) sentences.push(`${part.name} added.`);
    else if (old !== part) {
      if (old.name !== part.name) sentences.push(`${old.name} renamed to ${part.name}.`);
      if (old.kind === "block" && part.kind === "block") sentences.push(...blockDifferences(before, old, after, part));
      else if (old.kind === "page" && part.kind === "page") sentences.push(...pageDifferences(old, part));
      else sentences.push(`${part.name}: now a ${part.kind}.`);
    }
  }
  for (const part of partsInOrder(before)) if (!after.parts[part.id]) sentences.push(`${part.name} removed.`);
  if (!same(before.runningOrder, after.runningOrder) && !sentences.some((each) => /(added|removed)\.$/.test(each)))
    sentences.push("Order of parts changed.");
  if (before.description !== after.description) sentences.push("Description changed.");
  if (before.notes !== after.notes) sentences.push("Notes changed.");
  if (before.language !== after.language) sentences.push("Language changed.");
  if (!same(before.media, after.media)) sentences.push("Media changed.");
  if (!same(before.groups, after.groups)) sentences.push("Groups changed.");
  if (!same(before.groupValues, after.groupValues)) sentences.push("Group values changed.");
  each(before.scores, after.scores, (was, score) => {
    if (!was) sentences.push(`Score ${score?.name} added.`);
    else if (!score) sentences.push(`Score ${was.name} removed.`);
    else if (!same(was, score)) sentences.push(`Score ${score.name} changed.`);
  });
  each(before.variables, after.variables, (was, variable) => {
    if (!was) sentences.push(`Variable ${variable?.name} added.`);
    else if (!variable) sentences.push(`Variable ${was.name} removed.`);
    else if (was.name !== variable.name) sentences.push(`Variable ${was.name} renamed to ${variable.name}.`);
    else sentences.push(`Variable ${variable.name} changed.`);
  });
  each(before.pools, after.pools, (was, pool) => {
    if (!was) return sentences.push(`Pool ${pool?.name} added.`);
    if (!pool) return sentences.push(`Pool ${was.name} removed.`);
    if (was.name !== pool.name) sentences.push(`Pool ${was.name} renamed to ${pool.name}.`);
    return sentences.push(...tableDifferences(was, pool));
  });
  each(before.services, after.services, (was, service) => {
    if (!was) sentences.push(`Service ${service?.name} added.`);
    else if (!service) sentences.push(`Service ${was.name} removed.`);
    else sentences.push(`Service ${service.name} changed.`);
  });
  sentences.push(...ruleDifferences(before.rules, after.rules).map((what) => `The whole study: ${what}.`));
  if (!same(before.sittings, after.sittings)) sentences.push("Sittings changed.");
  if (!same(before.allocation, after.allocation)) sentences.push("Who gets what changed.");
  if (!same(before.settings, after.settings))
    sentences.push(before.settings.seed === after.settings.seed ? "Settings changed." : "Seed drawn anew.");
  return sentences;
}

/** What differs in a page: its questions one by one, its texts together. */
function pageDifferences(old: Page, page: Page): string[] {
  const sentences: string[] = [];
  const say = (what: string) => sentences.push(`${page.name}: ${what}.`);
  each([...questionsOf(old)], [...questionsOf(page)], (was, question) => {
    if (!was) return say(`question ${question?.name} added`);
    if (!question) return say(`question ${was.name} removed`);
    if (was.name !== question.name) say(`question ${was.name} renamed to ${question.name}`);
    const changed = changedFields(was, question).filter((field) => field !== "name");
    if (changed.length > 0) say(`question ${question.name}: ${changed.map(propertyInWords).join(", ")} changed`);
  });
  const others = ({ flow }: Page) => flow.filter((piece) => !isQuestion(piece) && !isSet(piece));
  if (!same(others(old), others(page))) say("text changed");
  const order = ({ flow }: Page) => flow.map(({ id }) => id).filter((id) => page.flow.some((each) => each.id === id));
  if (isReorderedList(order(old), order(page))) say("order changed");
  if (!same(old.endings, page.endings)) say("when it ends the session changed");
  for (const what of ruleDifferences(old.rules, page.rules)) say(what);
  if (!same(old.time, page.time)) say("its time changed");
  const rest = ({ continueLabel, shows, back, progress }: Page) => [continueLabel, shows, back, progress ?? null];
  if (!same(rest(old), rest(page))) say("how it goes on changed");
  if (old.notes !== page.notes) say("notes changed");
  return sentences;
}

/** What differs in the rules of a place. */
function ruleDifferences(before: readonly Rule[], after: readonly Rule[]): string[] {
  const sentences: string[] = [];
  each(before, after, (was, rule) => {
    if (!was && rule) sentences.push(`${ruleName(after, rule.id)} added`);
    else if (was && !rule) sentences.push(`${ruleName(before, was.id)} removed`);
    else if (was && rule && was.off !== rule.off)
      sentences.push(`${ruleName(after, rule.id)} switched ${rule.off ? "off" : "on"}`);
    else if (rule) sentences.push(`${ruleName(after, rule.id)} changed`);
  });
  if (isReordered(before, after)) sentences.push("order of rules changed");
  return sentences;
}

/** Whether what is in both lists stands in another order. */
function isReorderedList(before: readonly string[], after: readonly string[]): boolean {
  const there = before.filter((id) => after.includes(id));
  return there.join(" ") !== after.filter((id) => before.includes(id)).join(" ");
}

/** More cells than these are counted and not told one by one. */
const mostCells = 4;

/** What differs in `block` from another one, of the same or another study. */
export function blockDifferences(before: StudyDocument, old: Block, after: StudyDocument, block: Block): string[] {
  const sentences: string[] = [];
  const say = (what: string) => sentences.push(`${block.name}${what}.`);
  each(old.scenes, block.scenes, (was, scene) => {
    if (!was) return say(`: scene ${scene?.name} added`);
    if (!scene) return say(`: scene ${was.name} removed`);
    if (was.name !== scene.name) say(`: scene ${was.name} renamed to ${scene.name}`);
    const [from, to] = [lasting(was.lasts, before, old), lasting(scene.lasts, after, block)];
    if (from !== to) say(`, ${scene.name}: ${from} → ${to}`);
    if (!same(was.when, scene.when)) say(`, ${scene.name}: condition changed`);
    for (const what of ruleDifferences(was.rules ?? [], scene.rules ?? [])) say(`, ${scene.name}: ${what}`);
    sentences.push(...itemDifferences(before, old, was, after, block, scene));
    if (was.notes !== scene.notes) say(`, ${scene.name}: notes changed`);
  });
  if (isReordered(old.scenes, block.scenes)) say(": order of scenes changed");
  each(old.answers, block.answers, (was, answer) => {
    if (!was) return say(`: answer ${answer?.name} added`);
    if (!answer) return say(`: answer ${was.name} removed`);
    if (was.name !== answer.name) say(`: answer ${was.name} renamed to ${answer.name}`);
    const changed = changedFields(was, answer).filter((field) => field !== "name");
    if (changed.length > 0) say(`, ${answer.name}: ${changed.map(propertyInWords).join(", ")} changed`);
  });
  sentences.push(...tableDifferences(old, block));
  if (!same(old.order.again, block.order.again))
    say(block.order.again ? `: ${againInWords(block.order.again)}` : ": no trial comes again");
  if (old.order.passes !== block.order.passes) say(`: ${old.order.passes} → ${block.order.passes} passes`);
  if (!same({ ...old.order, passes: 0, again: 0 }, { ...block.order, passes: 0, again: 0 }))
    say(": order of trials changed");
  for (const what of ruleDifferences(old.rules, block.rules)) say(`: ${what}`);
  if (!same(old.criterion, block.criterion))
    say(
      block.criterion
        ? `: until good enough: ${criterionInWords(block.criterion, { document: after, block })}`
        : ": no longer repeated until good enough",
    );
  if (old.practice !== block.practice) say(block.practice ? ": now practice" : ": no longer practice");
  if (old.notes !== block.notes) say(": notes changed");
  return sentences;
}

function itemDifferences(
  before: StudyDocument,
  old: Block,
  was: Scene,
  after: StudyDocument,
  block: Block,
  scene: Scene,
): string[] {
  const sentences: string[] = [];
  const say = (what: string) => sentences.push(`${block.name}, ${scene.name}: ${what}.`);
  each(was.items, scene.items, (one, item) => {
    if (!one) return say(`${item?.name} added`);
    if (!item) return say(`${one.name} removed`);
    if (one.name !== item.name) say(`${one.name} renamed to ${item.name}`);
    for (const { path, from, to } of leaves(one, item, [])) {
      if (path[0] === "name" || path[0] === "id") continue;
      const what = path.map(propertyInWords).join(" ");
      const [a, b] = [shortValue(from, before, old), shortValue(to, after, block)];
      say(a !== null && b !== null ? `${item.name}, ${what} ${a} → ${b}` : `${item.name}, ${what} changed`);
    }
  });
  if (isReordered(was.items, scene.items)) say("layers changed");
  return sentences;
}

function tableDifferences(old: TableHolder, block: TableHolder): string[] {
  const sentences: string[] = [];
  const say = (what: string) => sentences.push(`${block.name}: ${what}.`);
  each(old.table.columns, block.table.columns, (was, column) => {
    if (!was) return say(`column ${column?.name} added`);
    if (!column) return say(`column ${was.name} removed`);
    if (was.name !== column.name) say(`column ${was.name} renamed to ${column.name}`);
    const changed = changedFields(was, column).filter((field) => field !== "name");
    if (changed.length > 0) say(`column ${column.name}: ${changed.map(propertyInWords).join(", ")} changed`);
  });
  const [rows, there] = [
    new Map(old.table.rows.map((row) => [row.id, row])),
    new Set(block.table.rows.map(({ id }) => id)),
  ];
  const added = block.table.rows.filter(({ id }) => !rows.has(id)).length;
  const removed = old.table.rows.filter(({ id }) => !there.has(id)).length;
  if (added > 0) say(`${added} ${added === 1 ? "row" : "rows"} added`);
  if (removed > 0) say(`${removed} ${removed === 1 ? "row" : "rows"} removed`);
  const cells: string[] = [];
  block.table.rows.forEach((row, index) => {
    const was = rows.get(row.id);
    if (!was || was === row) return;
    if (was.copies !== row.copies) cells.push(`row ${index + 1}: copies ${was.copies} → ${row.copies}`);
    if (was.note !== row.note) cells.push(`row ${index + 1}: note changed`);
    for (const { id, name } of block.table.columns) {
      const [from, to] = [was.cells[id] ?? null, row.cells[id] ?? null];
      if (from !== to) cells.push(`row ${index + 1}: ${name} ${from ?? "empty"} → ${to ?? "empty"}`);
    }
  });
  if (cells.length > mostCells) say(`${cells.length} cells of the table changed`);
  else cells.forEach(say);
  if (added + removed === 0 && isReordered(old.table.rows, block.table.rows)) say("order of rows changed");
  return sentences;
}

const lasting = (lasts: Lasts, document: StudyDocument, block: Block) => durationInWords(lasts, document, block);

/** Pairs of two lists by id: first those of the later list, then what is gone. */
function each<T extends { id: string }>(
  before: readonly T[],
  after: readonly T[],
  pair: (was: T | undefined, is: T | undefined) => void,
): void {
  const old = new Map(before.map((entry) => [entry.id, entry]));
  for (const entry of after) if (!same(old.get(entry.id), entry)) pair(old.get(entry.id), entry);
  for (const entry of before) if (!after.some(({ id }) => id === entry.id)) pair(entry, undefined);
}

function isReordered(before: readonly { id: string }[], after: readonly { id: string }[]): boolean {
  const [old, now] = [new Set(before.map(({ id }) => id)), new Set(after.map(({ id }) => id))];
  const kept = before.filter(({ id }) => now.has(id)).map(({ id }) => id);
  return after.filter(({ id }) => old.has(id)).some(({ id }, index) => id !== kept[index]);
}

const changedFields = (before: object, after: object): string[] =>
  [...new Set([...Object.keys(before), ...Object.keys(after)])].filter(
    (field) => !same((before as Record<string, unknown>)[field], (after as Record<string, unknown>)[field]),
  );

/** The innermost fields that differ, with both values; a binding is one value. */
function leaves(before: unknown, after: unknown, path: string[]): { path: string[]; from: unknown; to: unknown }[] {
  if (same(before, after)) return [];
  const isPlain = (value: unknown): value is Record<string, unknown> =>
    typeof value === "object" && value !== null && !Array.isArray(value) && !isBinding(value);
  if (isPlain(before) && isPlain(after))
    return changedFields(before, after).flatMap((field) => leaves(before[field], after[field], [...path, field]));
  return [{ path, from: before, to: after }];
}

/** A value in a word or two, or null where it takes more. */
function shortValue(value: unknown, document: StudyDocument, block: Block): string | null {
  if (value === undefined) return "none";
  if (isBinding(value)) return refName(value.from as Ref, document, block) ?? "something gone";
  if (typeof value === "string")
    return document.media.find(({ id }) => id === value)?.name ?? (value.length <= 40 ? value || "empty" : null);
  return typeof value === "number" || typeof value === "boolean" ? String(value) : null;
}

/** Any value of a document in a few words, for showing what was set. */
export function valueInWords(value: unknown): string {
  if (value === undefined || value === null) return "removed";
  if (typeof value === "string" || typeof value === "number") return String(value) || "empty";
  if (typeof value === "boolean") return value ? "yes" : "no";
  const named = (value as { name?: unknown }).name;
  if (typeof named === "string") return named;
  const words = textsIn(value).join(" ");
  return words.length > 0 ? `${words.slice(0, 120)}${words.length > 120 ? "…" : ""}` : "another setting";
}

function textsIn(value: unknown): string[] {
  if (typeof value === "number") return [String(value)];
  if (typeof value !== "object" || value === null) return typeof value === "string" ? [value] : [];
  return Object.entries(value).flatMap(([field, inner]) =>
    ["id", "kind", "as"].includes(field) ? [] : textsIn(inner),
  );
}

/** Where a path through ids leads, in words: `Near waders, flock, middle bird: size width`. */
export function subjectOfPath(document: unknown, path: readonly string[]): string {
  const names: string[] = [];
  let fields: string[] = [];
  let here: unknown = document;
  for (const key of path) {
    here = Array.isArray(here)
      ? here.find((entry: { id?: string; part?: string }) => entry.id === key || entry.part === key)
      : (here as Record<string, unknown> | undefined)?.[key];
    const name = (here as { name?: unknown } | undefined)?.name;
    if (typeof name === "string") {
      names.push(name);
      fields = [];
    } else fields.push(key);
  }
  const words = fields.filter((field) => !/^[a-z]+-[a-z0-9-]+$/i.test(field)).map(propertyInWords);
  return [names.join(", "), words.join(" ")].filter(Boolean).join(": ") || "the study";
}
