import { trialsComeAgain } from "../../core/design/all-rules";
import { blocksInOrder } from "../../core/design/lookup";
import { partLabel } from "../../core/design/part-labels";
import type { RowSource } from "../../core/export/tables/trial-source";
import { tableColumnsOf } from "../../core/export/tables/trials";
import { summarize, type CellSummary, type ScoredTrial } from "../../core/stats/conditions";
import type { DataReader } from "../export/reader";
import type { Result } from "./result";
import { scoredRows } from "./scored-rows";

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
  /** Trials can come again: of those the first showing is compared. */
  comesAgain: boolean;
};

const separator = "\u001f";

/** Reaction time of right answers and accuracy by one or two columns. */
export const conditions: Result<ConditionQuestion, ConditionAnswer> = {
  ask: (query, reader) => {
    const columns = comparableColumns(reader);
    const asked = (name: string | null) =>
      columns.find((column) => column.name === name)?.name ?? columns.find(({ isNow }) => name && isNow(name))?.name;
    const first = asked(query.get("by")) ?? columns.find(({ isFactor }) => isFactor)?.name ?? "part";
    const usual = query.has("and")
      ? null
      : (columns.find(({ isFactor, name }) => isFactor && name !== first)?.name ?? null);
    const second = asked(query.get("and")) ?? usual;
    return {
      columns: columns.map(({ name }) => name),
      first,
      second: second === first ? null : second,
      practice: query.get("practice") === "yes",
    };
  },
  answer: async (reader, { first, second, practice }) => {
    const columns = comparableColumns(reader);
    const [firstColumn, secondColumn] = [first, second].map((wanted) => columns.find(({ name }) => name === wanted));
    const scored: ScoredTrial[] = [];
    const [firstLevels, secondLevels] = [new Set<string>(), new Set<string>()];
    let sessions = 0;
    for await (const { sitting, trials } of scoredRows(reader)) {
      const before = scored.length;
      for (const { of, score } of trials) {
        if (of.block.practice && !practice) continue;
        const [a, b] = [firstColumn?.read(of) ?? "", secondColumn?.read(of) ?? ""];
        firstLevels.add(a);
        secondLevels.add(b);
        scored.push({ person: sitting.facts.session, cell: a + separator + b, ...score });
      }
      if (scored.length > before) sessions++;
    }
    const levels = [
      inDesignOrder(firstColumn, firstLevels),
      second === null ? [""] : inDesignOrder(secondColumn, secondLevels),
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
      sessions,
      trials: scored.length,
      comesAgain: reader.documents.some(trialsComeAgain),
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

type Comparable = {
  name: string;
  isFactor: boolean;
  /** Whether this is what the draft calls it now. */
  isNow: (name: string) => boolean;
  read: (source: RowSource) => string;
  /** Its levels in the order of the design. */
  levels: () => string[];
};

const never = () => false;

const known = new WeakMap<DataReader, Comparable[]>();
/** Worked out once for the question and its answer. */
function comparableColumns(reader: DataReader): Comparable[] {
  const columns = known.get(reader) ?? comparablesOf(reader);
  known.set(reader, columns);
  return columns;
}

/** Columns by which results can be compared: the trial tables' as they are exported, factors first, then the part, the release and the group. */
function comparablesOf({ documents, releases, study }: DataReader): Comparable[] {
  const numbers = new Map(releases.map(({ document, number }) => [document, String(number)]));
  const groupName = ({ document, facts }: RowSource) =>
    document.groups.find(({ id }) => id === facts.group)?.name ?? facts.group;
  return [
    ...tableColumnsOf(documents)
      .filter(({ isFollowing }) => !isFollowing)
      .map(({ name, isFactor, holds, read, levels }): Comparable => ({
        name,
        isFactor,
        isNow: (asked) =>
          blocksInOrder(study.document).some(({ id, table }) =>
            table.columns.some((column) => column.name === asked && holds(id, column.id)),
          ),
        read: (source) => String(read(source) ?? ""),
        levels,
      }))
      .sort((a, b) => Number(b.isFactor) - Number(a.isFactor)),
    {
      name: "part",
      isFactor: false,
      isNow: never,
      read: ({ document, block }) => partLabel(document, block.id),
      levels: () => documents.flatMap((document) => blocksInOrder(document).map(({ id }) => partLabel(document, id))),
    },
    {
      name: "release",
      isFactor: false,
      isNow: never,
      read: ({ document }) => numbers.get(document) ?? "",
      levels: () => [...numbers.values()].toReversed(),
    },
    {
      name: "group",
      isFactor: false,
      isNow: never,
      read: groupName,
      levels: () => documents.flatMap(({ groups }) => groups.map(({ name }) => name)),
    },
  ];
}

/** Levels in the order in which they stand in the design; others behind them by name. */
const inDesignOrder = (column: Comparable | undefined, seen: ReadonlySet<string>): string[] => [
  ...new Set([...(column?.levels() ?? []).filter((level) => seen.has(level)), ...[...seen].sort()]),
];
