import { trialsComeAgain } from "../../core/design/all-rules";
import { blocksInOrder } from "../../core/design/lookup";
import { partLabel } from "../../core/design/part-labels";
import { hiddenOfTrials } from "../../core/export/tidy-tables";
import { tableColumnsOf } from "../../core/export/tables/trials";
import { centreNames, type Centre } from "../../core/stats/centre";
import { addTrial, summarize, type CellSummary, type People } from "../../core/stats/conditions";
import { coded, numbersOf, type Column } from "../../core/tidy/column";
import type { DataReader } from "../export/reader";
import type { Result } from "./result";

/** The columns to compare by, the one or two columns chosen of them, and whether practice blocks are in. */
export type ConditionQuestion = {
  columns: string[];
  first: string;
  second: string | null;
  practice: boolean;
  /** Which middle of a person's times. */
  centre: Centre;
};
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
  /** Every how many sessions one comes as a point of its own. */
  pointOfEach: number;
};
/** More points beside a mean than these cannot be told apart. */
const mostPoints = 400;

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
      centre: centreNames.find((each) => each === query.get("of")) ?? "mean",
    };
  },
  answer: async ({ reader, tidy }, { first, second, practice, centre }) => {
    const columns = comparableColumns(reader);
    const [firstColumn, secondColumn] = [first, second].map((wanted) => columns.find(({ name }) => name === wanted));
    const people: People = new Map();
    const [firstLevels, secondLevels] = [new Set<string>(), new Set<string>()];
    let trials = 0;
    await tidy(async (data) => {
      const of = (name: string) => data.column("trials", name);
      const levelsOf = async (column: Comparable | undefined) =>
        column === undefined ? null : levelled(await of(column.exported));
      const [a, b] = [await levelsOf(firstColumn), await levelsOf(secondColumn)];
      /** Names of conditions by the codes of their levels, made once. */
      const names: string[][] = [];
      const nameOf = (codeA: number, codeB: number): string => {
        const some = (names[codeA] ??= []);
        const known = some[codeB];
        if (known !== undefined) return known;
        const [levelA, levelB] = [a?.levels[codeA] ?? "", b?.levels[codeB] ?? ""];
        firstLevels.add(levelA);
        secondLevels.add(levelB);
        return (some[codeB] = levelA + separator + levelB);
      };
      const { right, rt, isFirst } = hiddenOfTrials;
      const [isRight, times, shown] = [
        numbersOf(await of(right)),
        numbersOf(await of(rt)),
        numbersOf(await of(isFirst)),
      ];
      const isPractice = levelled(await of("practice"));
      let row = 0;
      for (const sitting of data.sittings) {
        const own: ReturnType<typeof people.get> = new Map();
        for (const end = row + data.rowsOf("trials", sitting); row < end; row++) {
          // Of trials that come again the first showing is compared.
          if (shown[row] !== 1 || (!practice && isPractice.levels[isPractice.codes[row] ?? 0] === "yes")) continue;
          const [score, time] = [isRight[row] ?? NaN, times[row] ?? NaN];
          addTrial(own, nameOf(a?.codes[row] ?? 0, b?.codes[row] ?? 0), {
            right: Number.isNaN(score) ? null : score === 1,
            rt: Number.isNaN(time) ? null : time,
          });
          trials++;
        }
        if (own.size > 0) people.set(sitting.facts.session, own);
      }
    });
    const levels = [
      inDesignOrder(firstColumn, firstLevels),
      second === null ? [""] : inDesignOrder(secondColumn, secondLevels),
    ] as const;
    const present = new Set([...people.values()].flatMap((own) => [...own.keys()]));
    const compared = levels[0]
      .flatMap((a) => levels[1].map((b) => ({ cell: a + separator + b, levels: second === null ? [a] : [a, b] })))
      .filter(({ cell }) => present.has(cell));
    const comparison = summarize(people, compared, centre);
    const named = second === null ? [first] : [first, second];
    const step = Math.ceil(people.size / mostPoints) || 1;
    return {
      firstLevels: levels[0],
      secondLevels: levels[1],
      sessions: people.size,
      trials,
      comesAgain: reader.documents.some(trialsComeAgain),
      between: named.filter((_, factor) => comparison.between[factor]),
      within: named.filter((_, factor) => !comparison.between[factor] && (levels[factor]?.length ?? 0) > 1),
      pointOfEach: step,
      cells: comparison.cells.map((summary) => ({
        ...summary,
        points: summary.points.filter((_, index) => index % step === 0),
        first: summary.cell.split(separator)[0] ?? "",
        second: summary.cell.split(separator)[1] ?? "",
      })),
    };
  },
};

/** What rows hold, as levels are told apart. */
function levelled(column: Column): { codes: Uint32Array; levels: string[] } {
  const { codes, cells } = coded(column);
  return { codes, levels: cells.map((cell) => String(cell ?? "")) };
}

type Comparable = {
  name: string;
  isFactor: boolean;
  /** Whether this is what the draft calls it now. */
  isNow: (name: string) => boolean;
  /** The column of the trials table that holds it. */
  exported: string;
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
  return [
    ...tableColumnsOf(documents)
      .filter(({ isFollowing }) => !isFollowing)
      .map(({ name, isFactor, holds, levels }): Comparable => ({
        name,
        isFactor,
        isNow: (asked) =>
          blocksInOrder(study.document).some(({ id, table }) =>
            table.columns.some((column) => column.name === asked && holds(id, column.id)),
          ),
        exported: name,
        levels,
      }))
      .sort((a, b) => Number(b.isFactor) - Number(a.isFactor)),
    {
      name: "part",
      isFactor: false,
      isNow: never,
      exported: "part",
      levels: () => documents.flatMap((document) => blocksInOrder(document).map(({ id }) => partLabel(document, id))),
    },
    {
      name: "release",
      isFactor: false,
      isNow: never,
      exported: "release",
      levels: () => [...numbers.values()].toReversed(),
    },
    {
      name: "group",
      isFactor: false,
      isNow: never,
      exported: "group_name",
      levels: () => documents.flatMap(({ groups }) => groups.map(({ name }) => name)),
    },
  ];
}

/** Levels in the order in which they stand in the design; others behind them by name. */
const inDesignOrder = (column: Comparable | undefined, seen: ReadonlySet<string>): string[] => [
  ...new Set([...(column?.levels() ?? []).filter((level) => seen.has(level)), ...[...seen].sort()]),
];
