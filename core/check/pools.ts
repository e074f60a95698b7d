import { plannedAssignment } from "../allocate/allocate";
import { drawOf } from "../design/drawn-levels";
import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import { blocksInOrder } from "../design/lookup";
import { columnsOfOrder } from "../order/words";
import { partsFor } from "../order/parts";
import { sessionDraws, type Lacking } from "../pools/draw";
import { circlesIn, drawsIn } from "../pools/tasks";
import { hasOwnRow, type OwnRow } from "../values/draws";
import type { Pool } from "../values/pool";
import { isFilled, type Column } from "../values/table";
import type { Check, Finding } from "./finding";

/** So many participants' draws are made. */
const participantsTried = 6;

/** Columns that cannot draw as they are asked to, pools that are too small, and pools nothing is drawn from. */
export const poolProblems: Check = (document) => {
  const findings = blocksInOrder(document).flatMap((block) => [
    ...block.table.columns.flatMap((column) => (column.draws ? ofColumn(document, block, column) : [])),
    ...usesOfDrawn(block),
  ]);
  const isWhole = findings.every(({ level }) => level !== "error");
  return [...findings, ...(isWhole ? shortages(document) : []), ...unused(document)];
};

const unused = (document: StudyDocument): Finding[] => {
  const used = new Set(blocksInOrder(document).flatMap((block) => drawsIn(block).map(({ own }) => own.pool)));
  return document.pools
    .filter(({ id }) => !used.has(id))
    .map(({ id, name }) => ({
      level: "note",
      where: `pool “${name}”`,
      message: "No column draws from it.",
      target: { pool: id },
    }));
};

function ofColumn(document: StudyDocument, block: Block, column: Column): Finding[] {
  const found = finder(block, column);
  const own = drawOf(block, column);
  const pool = own && document.pools.find(({ id }) => id === own.pool);
  if (!own) return [found("error", "The column it draws with draws nothing itself. Choose another.")];
  if (!pool) return [found("error", "The pool it draws from has been removed. Choose another.")];
  const takes = column.draws?.takes;
  const has = (id: string) => pool.table.columns.some((each) => each.id === id);
  const before = own.before && document.parts[own.before.block];
  const findings: Finding[] = [];
  if (takes?.is === "value" && !has(takes.column))
    findings.push(found("error", `The column it takes from “${pool.name}” has been removed. Choose another.`));
  if (takes && takes.is !== "value" && !own.before)
    findings.push(
      found(
        "error",
        "It takes where its row was shown before, and its rows need not have been shown. Let them be old, or take something else.",
      ),
    );
  if (
    takes?.is === "earlier" &&
    before?.kind === "block" &&
    !before.table.columns.some(({ id }) => id === takes.column)
  )
    findings.push(found("error", `The column it takes from “${before.name}” has been removed. Choose another.`));
  return hasOwnRow(column.draws) ? [...findings, ...ofOwnRow(document, block, column, column.draws, pool)] : findings;
}

type Found = (level: Finding["level"], message: string) => Finding;
const finder =
  (block: Block, column: Column): Found =>
  (level, message) => ({
    level,
    where: `block “${block.name}”, column “${column.name}”`,
    message,
    target: { part: block.id, column: column.id },
  });

function ofOwnRow(document: StudyDocument, block: Block, column: Column, own: OwnRow, pool: Pool): Finding[] {
  const found = finder(block, column);
  const findings: Finding[] = [];
  if (pool.table.rows.every(({ copies }) => copies === 0))
    findings.push(found("error", `“${pool.name}” has no rows to draw. Add some.`));
  if (own.where.some((match) => !pool.table.columns.some(({ id }) => id === match.column)))
    findings.push(
      found("error", `A condition looks at a column of “${pool.name}” that has been removed. Choose another.`),
    );
  if (circlesIn(block).includes(column))
    findings.push(
      found(
        "error",
        "Its conditions look at a column whose conditions look at this one, so neither can be drawn first.",
      ),
    );
  if (own.balanced !== undefined) findings.push(...ofBalanced(block, own.balanced, own, found));
  if (own.before) findings.push(...ofBefore(document, block, own, pool, found));
  return findings;
}

function ofBalanced(block: Block, level: string, own: OwnRow, found: Found): Finding[] {
  const column = block.table.columns.find(({ id }) => id === level);
  if (!column || isFilled(column))
    return [found("error", "The column it is balanced by has been removed or is itself filled. Choose another.")];
  if (own.once === "trial")
    return [
      found("error", "Rows that may come again in the block cannot be balanced. Let no row come twice in the block."),
    ];
  const trials = new Map<string, number>();
  for (const { cells, copies } of block.table.rows) {
    const value = String(cells[level] ?? "");
    trials.set(value, (trials.get(value) ?? 0) + copies);
  }
  const counts = [...trials.values()];
  return counts.every((count) => count === counts[0])
    ? []
    : [
        found(
          "warning",
          `The levels of ${column.name} have ${counts.join(", ")} trials, so rows cannot come equally often with each.`,
        ),
      ];
}

function ofBefore(document: StudyDocument, block: Block, own: OwnRow, pool: Pool, found: Found): Finding[] {
  const { block: id, shown } = own.before as NonNullable<OwnRow["before"]>;
  const before = document.parts[id];
  if (before?.kind !== "block")
    return [found("error", "The block its rows were shown in has been removed. Choose another.")];
  if (!drawsIn(before).some((each) => each.own.pool === own.pool))
    return [found("error", `“${before.name}” draws nothing from “${pool.name}”. Choose another block.`)];
  const findings: Finding[] = [];
  const late = document.groups.filter(({ id: group }) => {
    const parts = partsFor(document, { group, orders: {}, participant: 1, sitting: null }).map(({ part }) => part);
    return parts.includes(block.id) && parts.indexOf(id) > parts.indexOf(block.id);
  });
  if (id === block.id || late.length > 0)
    findings.push(found("error", `“${before.name}” comes later, so nothing has been shown in it by then.`));
  if (typeof shown === "object") {
    const column = block.table.columns.find((each) => each.id === shown.column);
    if (!column || isFilled(column))
      findings.push(
        found("error", "The column that tells old from new has been removed or is itself filled. Choose another."),
      );
    else if (!block.table.rows.some(({ cells }) => String(cells[shown.column] ?? "") === String(shown.is)))
      findings.push(
        found("warning", `No row of the table has “${shown.is}” in ${column.name}, so nothing old is drawn.`),
      );
  }
  if (before.criterion)
    findings.push(
      found(
        "warning",
        `“${before.name}” may be played again until it is good enough. Old rows, and their positions, are those of its first attempt.`,
      ),
    );
  return findings;
}

/** Drawn values are known after orders are, and differ from participant to participant. */
const usesOfDrawn = (block: Block): Finding[] =>
  block.table.columns
    .filter(({ draws }) => draws !== undefined)
    .flatMap((column) => [
      ...columnsOfOrder(block.order)
        .filter((use) => use.column === column.id)
        .map(({ use }) =>
          finder(block, column)("error", `It is used for ${use}, and orders are drawn before values are.`),
        ),
      ...(block.criterion?.each === column.id
        ? [
            finder(block, column)(
              "error",
              "The block is repeated until each of its levels is good enough, and what is drawn has no levels. Choose another column.",
            ),
          ]
        : []),
    ]);

/** What pools lack, as the first participants' draws show. */
function shortages(document: StudyDocument): Finding[] {
  const findings = new Map<string, Finding>();
  for (let participant = 1; participant <= participantsTried; participant++) {
    const who = { participant, seed: document.settings.seed, ...plannedAssignment(document, participant) };
    for (const lack of sessionDraws(document, who, []).lacking) {
      const block = document.parts[lack.block];
      const column = block?.kind === "block" ? block.table.columns.find(({ id }) => id === lack.column) : undefined;
      if (block?.kind !== "block" || !column) continue;
      const finding = finder(block, column)("error", lackInWords(document, lack));
      if (!findings.has(finding.message)) findings.set(finding.message, finding);
    }
  }
  return [...findings.values()].slice(0, 12);
}

function lackInWords(document: StudyDocument, { pool: id, wanted, needs, has, isProven }: Lacking): string {
  const name = document.pools.find((each) => each.id === id)?.name ?? "";
  const listed = wanted
    .filter(Boolean)
    .slice(0, 4)
    .map((each) => `with ${each}`);
  const more = wanted.length > 4 ? ", and so on" : "";
  const rows = listed.length > 0 ? `a row of “${name}” ${listed.join(", or ")}${more}` : `a row of “${name}”`;
  const short = `${needs} ${needs === 1 ? "trial needs" : "trials need"} ${rows}, and only ${has} ${has === 1 ? "is" : "are"} free`;
  return isProven
    ? `${short}. Add rows, use fewer trials, or let rows come again.`
    : `No draw was found: after what other columns drew, ${short}. That does not prove that there is none. Add rows or loosen a condition.`;
}
