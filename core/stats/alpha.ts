import fQuantile from "@stdlib/stats-base-dists-f-quantile";

/** Cronbach's alpha with its interval; null where it cannot be had. */
export type Alpha = { alpha: number; low: number; high: number; persons: number; items: number };

const variance = (values: readonly number[]): number => {
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  return values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / (values.length - 1);
};

/**
 * Cronbach's alpha (1951) of a table of persons × items, over the persons who have all of them, with the interval of Feldt
 * (1965) at a level such as 0.95. Null with fewer than two items or three persons, or where nobody differs.
 */
export function cronbachAlpha(rows: readonly (readonly (number | null)[])[], level = 0.95): Alpha | null {
  const whole = rows.filter((row): row is readonly number[] => row.every((value) => value !== null));
  const items = whole[0]?.length ?? 0;
  const persons = whole.length;
  if (items < 2 || persons < 3) return null;
  const total = variance(whole.map((row) => row.reduce((sum, value) => sum + value, 0)));
  if (total === 0) return null;
  const parts = Array.from({ length: items }, (_, item) => variance(whole.map((row) => row[item] as number)));
  const alpha = (items / (items - 1)) * (1 - parts.reduce((sum, part) => sum + part, 0) / total);
  const tail = (1 - level) / 2;
  const [df1, df2] = [persons - 1, (persons - 1) * (items - 1)];
  return {
    alpha,
    low: 1 - (1 - alpha) * fQuantile(1 - tail, df1, df2),
    high: 1 - (1 - alpha) * fQuantile(tail, df1, df2),
    persons,
    items,
  };
}
