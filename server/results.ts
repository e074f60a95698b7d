import { blocksInOrder } from "../core/design/lookup";
import { summarize, type CellSummary, type ScoredTrial } from "../core/stats/conditions";
import { trialRow, type Cell } from "../core/export/columns";
import type { Store } from "./database/open";
import { columnsOf, trialCounts, trialsOf } from "./data-export";
import type { Study } from "./studies";

export type ConditionQuestion = { first: string; second: string | null; practice: boolean };
export type ConditionAnswer = {
  firstLevels: string[];
  secondLevels: string[];
  cells: (CellSummary & { first: string; second: string })[];
  sessions: number;
  trials: number;
};

const between = "\u001f";

/** Columns by which results can be compared: the trial tables' columns, the part and the group. */
export function comparableColumns(study: Study): { name: string; factor: boolean }[] {
  const columns = blocksInOrder(study.document).flatMap(({ table }) => table.columns);
  const unique = new Map(columns.map(({ name, factor }) => [name, factor]));
  return [
    ...[...unique].map(([name, factor]) => ({ name, factor })).sort((a, b) => Number(b.factor) - Number(a.factor)),
    { name: "part", factor: false },
    { name: "group", factor: false },
  ];
}

/** Reaction time of right answers and accuracy by one or two columns, over all sessions that are not rehearsals. */
export async function compareConditions(
  store: Store,
  study: Study,
  { first, second, practice }: ConditionQuestion,
): Promise<ConditionAnswer> {
  const columns = (await columnsOf(store, study)).filter(({ name }) => name === first || name === second);
  const order = [...new Set([first, second ?? ""])].map((name) => columns.findIndex((column) => column.name === name));
  const scored: ScoredTrial[] = [];
  const [firstLevels, secondLevels] = [new Set<string>(), new Set<string>()];
  const sessions = new Set<string>();
  for await (const trials of trialsOf(store, study, false))
    for (const { facts, document, record } of trials) {
      const block = document.parts[record.part];
      if (block?.kind !== "block" || (block.practice && !practice)) continue;
      const row = trialRow(columns, document, facts, record);
      const [a, b] = [String(row[order[0] ?? 0] ?? ""), second ? String(row[order[1] ?? order[0] ?? 0] ?? "") : ""];
      firstLevels.add(a);
      secondLevels.add(b);
      sessions.add(facts.session);
      const first = record.answers.find(({ answer }) =>
        block.answers.some(({ id, right }) => id === answer && right !== undefined),
      );
      const shown = first ?? record.answers[0];
      const isMissed = shown?.given === null;
      const counted = isMissed ? (first ? false : null) : (shown?.right ?? null);
      scored.push({ person: facts.session, cell: a + between + b, right: counted, rt: shown?.given?.rt ?? null });
    }
  const levels = [
    inTableOrder(study, first, firstLevels),
    second ? inTableOrder(study, second, secondLevels) : [""],
  ] as const;
  const present = new Set(scored.map(({ cell }) => cell));
  const cells = levels[0].flatMap((a) => levels[1].map((b) => a + between + b)).filter((cell) => present.has(cell));
  return {
    firstLevels: levels[0],
    secondLevels: levels[1],
    sessions: sessions.size,
    trials: scored.length,
    cells: summarize(scored, cells).map((summary) => ({
      ...summary,
      first: summary.cell.split(between)[0] ?? "",
      second: summary.cell.split(between)[1] ?? "",
    })),
  };
}

/** Levels in the order in which they stand in the design; others behind them by name. */
function inTableOrder(study: Study, name: string, seen: Set<string>): string[] {
  const { document } = study;
  const known =
    name === "part"
      ? blocksInOrder(document).map((block) => block.name)
      : name === "group"
        ? document.groups.map((group) => group.name)
        : blocksInOrder(document).flatMap(({ table }) => {
            const column = table.columns.find((each) => each.name === name);
            return column ? table.rows.map(({ cells }) => String(cells[column.id] ?? "")) : [];
          });
  return [...new Set([...known.filter((level) => seen.has(level)), ...[...seen].sort()])];
}

export type RecordsPage = { header: string[]; rows: Cell[][]; total: number };

/** Trials in the order and columns in which they are exported, `count` of them from the one numbered `from`, counted from 0. */
export async function recordsPage(
  store: Store,
  study: Study,
  from: number,
  count: number,
  pilots: boolean,
): Promise<RecordsPage> {
  const columns = await columnsOf(store, study);
  const sessions = await trialCounts(store, study, pilots);
  // Only sessions that reach into the page are read.
  const starts = new Map<string, number>();
  let total = 0;
  for (const { session, trials } of sessions) {
    if (total < from + count && total + trials > from) starts.set(session, total);
    total += trials;
  }
  const first = Math.min(...starts.values());
  const rows: Cell[][] = [];
  for await (const trials of trialsOf(store, study, pilots, ({ session }) => starts.has(session)))
    rows.push(...trials.map(({ facts, document, record }) => trialRow(columns, document, facts, record)));
  return {
    header: columns.map(({ name }) => name),
    rows: starts.size === 0 ? [] : rows.slice(from - first, from - first + count),
    total,
  };
}

/** The trials of one session in the export's columns, for Rehearse. */
export async function sessionRows(store: Store, study: Study, sessionId: string): Promise<RecordsPage> {
  const columns = await columnsOf(store, study);
  const rows: Cell[][] = [];
  for await (const trials of trialsOf(store, study, true, ({ session }) => session === sessionId))
    rows.push(...trials.map(({ facts, document, record }) => trialRow(columns, document, facts, record)));
  return { header: columns.map(({ name }) => name), rows, total: rows.length };
}
