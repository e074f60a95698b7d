import { blocksInOrder } from "../../core/design/lookup";
import { scoreOf } from "../../core/export/tables/score";
import { trialColumns } from "../../core/export/tables/trials";
import { summarize, type CellSummary, type ScoredTrial } from "../../core/stats/conditions";
import { DataReader } from "../export/reader";
import type { Study } from "../studies";
import type { Result } from "./result";

/** The columns to compare by, the one or two columns chosen of them, and whether practice blocks are in. */
export type ConditionQuestion = { columns: string[]; first: string; second: string | null; practice: boolean };
export type ConditionAnswer = {
  firstLevels: string[];
  secondLevels: string[];
  cells: (CellSummary & { first: string; second: string })[];
  /** Of the columns compared, those whose levels lie between participants, and those that each participant has several of. */
  between: string[];
  within: string[];
  sessions: number;
  trials: number;
};

const separator = "\u001f";

/** Reaction time of right answers and accuracy by one or two columns, over all sessions that are not rehearsals. */
export const conditions: Result<ConditionQuestion, ConditionAnswer> = {
  ask: (query, study) => {
    const columns = comparableColumns(study);
    const known = (name: string | null) => columns.find((column) => column.name === name)?.name ?? null;
    const first = known(query.get("by")) ?? columns.find(({ factor }) => factor)?.name ?? "part";
    const usual = query.has("and")
      ? null
      : (columns.find(({ factor, name }) => factor && name !== first)?.name ?? null);
    const second = known(query.get("and")) ?? usual;
    return {
      columns: columns.map(({ name }) => name),
      first,
      second: second === first ? null : second,
      practice: query.get("practice") === "yes",
    };
  },
  answer: async (store, study, { first, second, practice }) => {
    const reader = await DataReader.open(store, study, { pilots: false });
    const columns = trialColumns(reader.documents);
    const [firstColumn, secondColumn] = [first, second].map((wanted) => columns.find(({ name }) => name === wanted));
    const scored: ScoredTrial[] = [];
    const [firstLevels, secondLevels] = [new Set<string>(), new Set<string>()];
    const sessions = new Set<string>();
    for await (const trials of reader.trials())
      for (const source of trials) {
        if (source.block.practice && !practice) continue;
        const [a, b] = [firstColumn, secondColumn].map((column) => String(column?.read(source) ?? "")) as [
          string,
          string,
        ];
        firstLevels.add(a);
        secondLevels.add(b);
        sessions.add(source.facts.session);
        scored.push({ person: source.facts.session, cell: a + separator + b, ...scoreOf(source) });
      }
    const levels = [
      inDesignOrder(study, first, firstLevels),
      second === null ? [""] : inDesignOrder(study, second, secondLevels),
    ] as const;
    const present = new Set(scored.map(({ cell }) => cell));
    const compared = levels[0]
      .flatMap((a) => levels[1].map((b) => ({ cell: a + separator + b, levels: second === null ? [a] : [a, b] })))
      .filter(({ cell }) => present.has(cell));
    const comparison = summarize(scored, compared);
    const named = second === null ? [first] : [first, second];
    return {
      firstLevels: levels[0],
      secondLevels: levels[1],
      sessions: sessions.size,
      trials: scored.length,
      between: named.filter((_, factor) => comparison.between[factor]),
      within: named.filter((_, factor) => !comparison.between[factor] && (levels[factor]?.length ?? 0) > 1),
      cells: comparison.cells.map((summary) => ({
        ...summary,
        first: summary.cell.split(separator)[0] ?? "",
        second: summary.cell.split(separator)[1] ?? "",
      })),
    };
  },
};

/** Columns by which results can be compared: the trial tables' columns, factors first, then the part and the group. */
function comparableColumns({ document }: Study): { name: string; factor: boolean }[] {
  const unique = new Map(
    blocksInOrder(document).flatMap(({ table }) => table.columns.map(({ name, factor }) => [name, factor] as const)),
  );
  return [
    ...[...unique].map(([name, factor]) => ({ name, factor })).sort((a, b) => Number(b.factor) - Number(a.factor)),
    { name: "part", factor: false },
    { name: "group", factor: false },
  ];
}

/** Levels in the order in which they stand in the design; others behind them by name. */
function inDesignOrder({ document }: Study, name: string, seen: Set<string>): string[] {
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
