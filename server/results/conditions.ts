import { centreNames, type Centre } from "../../core/stats/centre";
import { addTrial, summarize, type CellSummary, type People } from "../../core/stats/conditions";
import { countedTrials, scoreOrNull, takesRightOnly, timeOrNull } from "./counted-trials";
import { comparableColumns, inDesignOrder, levelled, type Comparable } from "./comparable";
import type { Result } from "./result";

/** The columns to compare by, and the one or two columns chosen of them. */
export type ConditionQuestion = {
  columns: string[];
  first: string;
  second: string | null;
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
  /** Times are of right answers only. */
  rightOnly: boolean;
  /** Every how many sessions one comes as a point of its own. */
  pointOfEach: number;
};
/** More points beside a mean than these cannot be told apart. */
const mostPoints = 400;

const separator = "\u001f";

/** Reaction time and accuracy by one or two columns. */
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
      centre: centreNames.find((each) => each === query.get("of")) ?? "mean",
    };
  },
  answer: async ({ reader, tidy, rules }, { first, second, centre }) => {
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
      const { right, isOut, timeAt } = await countedTrials(data);
      let row = 0;
      for (const sitting of data.sittings) {
        const own: ReturnType<typeof people.get> = new Map();
        for (const end = row + data.rowsOf("trials", sitting); row < end; row++) {
          if (isOut(row)) continue;
          addTrial(own, nameOf(a?.codes[row] ?? 0, b?.codes[row] ?? 0), {
            right: scoreOrNull(right[row] as number),
            rt: timeOrNull(timeAt(row)),
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
      rightOnly: takesRightOnly(rules),
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
