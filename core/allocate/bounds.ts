import { drawsIn } from "../pools/tasks";
import { itemsIn, partsInOrder } from "../design/lookup";
import { pagesInOrder, questionsOf } from "../design/questions";
import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import { itemKind } from "../items/registry";
import { schemeOf } from "./scheme";

/**
 * The most a study may ask for: far more than research needs, and little enough that its orders are drawn, its plan is
 * kept in memory and its session is played on any machine. docs/security.md lists them.
 */
export const mostOf = {
  parts: 1000,
  /** Trials of one session. */
  trials: 20_000,
  /** Of all tables. */
  rows: 50_000,
  cells: 1_000_000,
  /** Copies of all rows, from which the trials of a pass are taken. */
  copies: 100_000,
  /** Rows times groups: each row is judged as each group meets it. */
  rowsByGroups: 500_000,
  items: 5000,
  /** Questions of all pages, those of sets included. */
  questions: 3000,
  /** Positions of arrays' elements that are drawn for one session. */
  places: 2_000_000,
  /** Trials of all given sequences. */
  given: 2_000_000,
  /** Trials that draw from a pool times the rows of that pool. */
  draws: 5_000_000,
  /** Orders a group is spread over: more would not be filled in a study's lifetime. */
  orders: 5040,
} as const;

/** Where something is too large, and what to do. */
export type Excess = { where: string; message: string; part?: string };

/** A study asks for more than it may: it is refused before anything of it is built. Its message is for people. */
export class TooLarge extends Error {
  constructor(readonly excesses: readonly Excess[]) {
    super(
      excesses.map(({ where, message }) => `${where.charAt(0).toUpperCase()}${where.slice(1)}: ${message}`).join(" "),
    );
  }
}

const known = new WeakMap<StudyDocument, readonly Excess[]>();

/** What of a study is larger than it may be; found by counting alone. */
export function excessesOf(document: StudyDocument): readonly Excess[] {
  const found = known.get(document) ?? counted(document);
  known.set(document, found);
  return found;
}

/** The same as one text for people; null where there is nothing. */
export function excessInWords(document: StudyDocument): string | null {
  const excesses = excessesOf(document);
  return excesses.length === 0 ? null : new TooLarge(excesses).message;
}

/** Throws `TooLarge` where a study asks for more than it may. */
export function refuseTooLarge(document: StudyDocument): void {
  const excesses = excessesOf(document);
  if (excesses.length > 0) throw new TooLarge(excesses);
}

const said = (number: number) => number.toLocaleString("en");

function counted(document: StudyDocument): Excess[] {
  const excesses: Excess[] = [];
  const check = (where: string, count: number, most: number, of: string, then: string, part?: string) => {
    if (!(count <= most))
      excesses.push({
        where,
        message: `${Number.isFinite(count) ? `It has ${said(count)} ${of}` : `It has more ${of} than can be counted`}; at most ${said(most)} are possible. ${then}`,
        ...(part === undefined ? {} : { part }),
      });
  };
  const parts = partsInOrder(document);
  check("the study", parts.length, mostOf.parts, "parts", "Take some out.");
  if (excesses.length > 0) return excesses;
  const questions = pagesInOrder(document).reduce((sum, page) => sum + questionsOf(page).length, 0);
  check("the study", questions, mostOf.questions, "questions on its pages", "Ask fewer.");
  const blocks = parts.filter((part): part is Block => part.kind === "block");
  const most = { trials: 0, rows: 0, copies: 0, cells: 0, items: 0, places: 0, given: 0, draws: 0 };
  for (const { table } of document.pools) {
    most.rows += table.rows.length;
    most.cells += table.rows.length * table.columns.length;
  }
  const poolSize = new Map(document.pools.map(({ id, table }) => [id, table.rows.length]));
  let largest: Block | undefined;
  for (const block of blocks) {
    const trials = mostTrials(block);
    if (trials > (largest ? mostTrials(largest) : 0)) largest = block;
    const items = itemsIn(block);
    most.trials += trials;
    most.rows += block.table.rows.length;
    most.copies += copiesOf(block.table);
    most.cells += block.table.rows.length * block.table.columns.length;
    most.items += items.length;
    most.places += trials * items.reduce((sum, item) => sum + (itemKind(item.kind).mostDrawn?.(item) ?? 0), 0);
    most.draws += trials * drawsIn(block).reduce((sum, { own }) => sum + (poolSize.get(own.pool) ?? 0), 0);
    most.given += (block.order.given?.sequences ?? []).reduce((sum, { rows }) => sum + rows.length, 0);
  }
  const where = largest && blocks.length === 1 ? `block “${largest.name}”` : "the study";
  check(where, most.trials, mostOf.trials, "trials in one session", "Use fewer passes, copies or rows.", largest?.id);
  check(where, most.rows, mostOf.rows, "rows in its tables", "Use fewer rows.", largest?.id);
  check(where, most.copies, mostOf.copies, "copies of rows", "Use fewer copies.", largest?.id);
  check(where, most.cells, mostOf.cells, "cells in its tables", "Use fewer rows or columns.", largest?.id);
  check(
    where,
    most.rows * document.groups.length,
    mostOf.rowsByGroups,
    "rows, counted for each group",
    "Use fewer groups or rows.",
  );
  check("the study", most.items, mostOf.items, "items in its scenes", "Use fewer items, or arrays.");
  check(
    where,
    most.places,
    mostOf.places,
    "elements of arrays to be placed in one session",
    "Use fewer elements or trials.",
    largest?.id,
  );
  check(where, most.given, mostOf.given, "trials in its given sequences", "Give fewer or shorter ones.", largest?.id);
  check(
    where,
    most.draws,
    mostOf.draws,
    "rows of pools to be looked at for its trials",
    "Use fewer trials that draw, or smaller pools.",
    largest?.id,
  );
  if (excesses.length > 0) return excesses;
  for (const { group, cells } of schemeOf(document))
    check(
      `group “${document.groups.find(({ id }) => id === group)?.name ?? ""}”`,
      cells,
      mostOf.orders,
      "orders to be spread over",
      "Shuffle a bracket or use a Latin square.",
    );
  return excesses;
}

const copiesOf = ({ rows }: Block["table"]) => rows.reduce((sum, { copies }) => sum + copies, 0);

/** The most trials a participant can have in a block; counted, nothing is drawn. */
function mostTrials({ order, table }: Block): number {
  if (order.method === "given")
    return (
      (order.given?.sequences ?? []).reduce((longest, { rows }) => Math.max(longest, rows.length), 0) * order.passes
    );
  const all = copiesOf(table);
  return all === 0 ? 0 : (order.take ?? all) * order.passes;
}
