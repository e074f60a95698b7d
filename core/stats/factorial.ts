import fCdf from "@stdlib/stats-base-dists-f-cdf";
import { inverse, Matrix } from "ml-matrix";
import { liesBetween, type Condition } from "./conditions";
import type { Values } from "./measures";

/** An effect of one factor, or of several together. */
export type Effect = {
  /** By their places in the conditions’ levels. */
  factors: number[];
  df: number;
  dfError: number;
  f: number;
  p: number;
  /** Greenhouse and Geisser’s, where an effect within persons has more than one degree of freedom, with what it makes of p. */
  epsilon: number | null;
  corrected: number | null;
  /** Generalised η². */
  etaG: number;
};
export type Factorial = {
  effects: Effect[];
  /** Persons with all conditions they could have, and those that lack some. */
  persons: number;
  lacking: number;
};

/**
 * The analysis of variance of the conditions’ factors, within persons, between them or both; null where persons are too few, or a
 * combination of levels has nobody.
 *
 * Sums of squares are those of type III: means count alike, however many persons have them. Effects within persons are tested
 * against their own interaction with persons, and corrected by ε where this is asked for (Greenhouse & Geisser, 1959).
 * Generalised η² is an effect’s sum of squares by all that lies between persons: that of persons, that of every effect with a factor
 * that was `measured` rather than manipulated, and its own (Olejnik & Algina, 2003; Bakeman, 2005).
 */
export function factorial(
  values: Values,
  conditions: readonly Condition[],
  measured: readonly number[] = [],
): Factorial | null {
  const between = liesBetween(values, conditions);
  const levels = between.map((_, factor) => [...new Set(conditions.map((each) => each.levels[factor] ?? ""))]);
  const factors = levels.flatMap((each, factor) => (each.length > 1 ? [factor] : []));
  const sides = { within: factors.filter((at) => !between[at]), between: factors.filter((at) => between[at]) };
  if (factors.length === 0) return null;
  const { groups, lacking } = grouped(values, conditions, levels, sides);
  const persons = groups.reduce((sum, group) => sum + group.length, 0);
  const freedom = persons - groups.length;
  if (groups.some(({ length }) => length === 0) || freedom < 1) return null;
  const shares = Matrix.diag(groups.map(({ length }) => 1 / length));
  const strata = subsets(sides.within).map((within) => {
    // What each person has of the effect within persons: a row a person, a column a contrast.
    const contrasts = sides.within.reduce(
      (found, factor) => found.kroneckerProduct(inContrasts((levels[factor] ?? []).length, within.includes(factor))),
      Matrix.ones(1, 1),
    );
    const scores = groups.map((group) => new Matrix(group).mmul(contrasts));
    const means = new Matrix(scores.map((own) => own.mean("column")));
    const error = scores.reduce(
      (sum, own, at) => {
        const freed = Matrix.sub(own, Matrix.ones(own.rows, 1).mmul(means.getRowVector(at)));
        return Matrix.add(sum, freed.transpose().mmul(freed));
      },
      Matrix.zeros(contrasts.columns, contrasts.columns),
    );
    return { within, means, error };
  });
  const errors = strata.reduce((sum, { error }) => sum + error.trace(), 0);
  const effects = strata.flatMap(({ within, means, error }) =>
    subsets(sides.between).flatMap((ofGroups): (Effect & { squares: number })[] => {
      if (within.length + ofGroups.length === 0) return [];
      const asked = sides.between.reduce(
        (found, factor) => {
          const count = (levels[factor] ?? []).length;
          const own = ofGroups.includes(factor)
            ? inContrasts(count, true).transpose()
            : Matrix.ones(1, count).div(count);
          return found.kroneckerProduct(own);
        },
        Matrix.ones(1, 1),
      );
      const found = asked.mmul(means);
      const weight = inverse(asked.mmul(shares).mmul(asked.transpose()));
      const squares = found.transpose().mmul(weight).mmul(found).trace();
      const columns = means.columns;
      const [df, dfError] = [asked.rows * columns, freedom * columns];
      const f = squares / df / (error.trace() / dfError);
      const epsilon =
        within.length > 0 && columns > 1 ? error.trace() ** 2 / (columns * error.mmul(error).trace()) : null;
      return [
        {
          factors: [...within, ...ofGroups].sort((a, b) => a - b),
          ...{ df, dfError, f, p: above(f, df, dfError), epsilon },
          corrected: epsilon === null ? null : above(f, df * epsilon, dfError * epsilon),
          ...{ squares, etaG: 0 },
        },
      ];
    }),
  );
  // Nobody differs: there is nothing to test against.
  if (effects.some(({ f }) => !Number.isFinite(f))) return null;
  const isMeasured = ({ factors: own }: Effect) => own.some((factor) => measured.includes(factor));
  const ofMeasured = effects.reduce((sum, effect) => sum + (isMeasured(effect) ? effect.squares : 0), 0);
  return {
    effects: effects
      .map(({ squares, ...effect }) => ({
        ...effect,
        etaG: squares / (ofMeasured + errors + (isMeasured(effect) ? 0 : squares)),
      }))
      .sort((a, b) => a.factors.length - b.factors.length || inOrder(a.factors, b.factors)),
    persons,
    lacking,
  };
}

/** How probable so large an F is, also where it is very improbable. */
const above = (f: number, df: number, dfError: number): number => fCdf(1 / f, dfError, df);

const inOrder = (a: number[], b: number[]) => {
  const at = a.findIndex((factor, index) => factor !== b[index]);
  return (a[at] ?? 0) - (b[at] ?? 0);
};

/** Persons with all they could have, by the levels that lie between them: each as a row of numbers, a column a combination of the others. */
function grouped(
  values: Values,
  conditions: readonly Condition[],
  levels: readonly string[][],
  { within, between }: { within: number[]; between: number[] },
): { groups: number[][][]; lacking: number } {
  const cells = new Map(conditions.map((condition) => [condition.levels.join("\u001f"), condition.cell]));
  const combinations = (of: number[]) =>
    of.reduce<Map<number, string>[]>(
      (found, factor) =>
        found.flatMap((each) => (levels[factor] ?? []).map((level) => new Map([...each, [factor, level]]))),
      [new Map()],
    );
  const columns = combinations(within);
  const groups = combinations(between).map((group) => ({
    cells: columns.map((column) =>
      cells.get(levels.map(([only = ""], factor) => group.get(factor) ?? column.get(factor) ?? only).join("\u001f")),
    ),
    rows: [] as number[][],
  }));
  let lacking = 0;
  for (const own of values.values()) {
    const group = groups.find((each) => each.cells.some((cell) => cell !== undefined && own.has(cell)));
    const row = (group?.cells ?? []).map((cell) => own.get(cell ?? "") ?? NaN);
    if (group && row.every((value) => Number.isFinite(value))) group.rows.push(row);
    else lacking++;
  }
  return { groups: groups.map(({ rows }) => rows), lacking };
}

const subsets = (of: readonly number[]): number[][] =>
  of.reduce<number[][]>((found, each) => [...found, ...found.map((some) => [...some, each])], [[]]);

/** Orthonormal contrasts of some levels, a column each; or their mean, so that its square has its weight. */
function inContrasts(levels: number, areAsked: boolean): Matrix {
  if (!areAsked) return Matrix.ones(levels, 1).div(Math.sqrt(levels));
  const contrasts = Matrix.zeros(levels, levels - 1);
  for (let column = 0; column < levels - 1; column++) {
    const length = Math.sqrt((column + 1) * (column + 2));
    for (let row = 0; row <= column; row++) contrasts.set(row, column, 1 / length);
    contrasts.set(column + 1, column, -(column + 1) / length);
  }
  return contrasts;
}
