import { list, object, variant } from "../shape/compound";
import { number, only, oneOf, readableName, text, whole, yesNo } from "../shape/plain";
import { nullable, optional, type Of } from "../shape/shape";

const called = text({ most: 200 });

/** Whom a band is for: whose cell in a column of sessions is one of a range (both ends in it), or a word. */
const condition = object({
  column: called,
  from: optional(number()),
  to: optional(number()),
  is: optional(called),
});
export type BandCondition = Of<typeof condition>;

const kinds = {
  /** Raw scores and their percentile ranks as they are published, lowest raw score first. */
  table: object({
    kind: only("table"),
    steps: list(object({ raw: number(), percentile: number({ least: 0, most: 100 }) }), 2, 2000),
  }),
  /** Mean and standard deviation; percentiles only where the scores are said to be normally distributed. */
  moments: object({ kind: only("moments"), mean: number(), sd: number({ above: 0 }), isNormal: yesNo }),
  /** The scores themselves, each with the session it is of. */
  own: object({
    kind: only("own"),
    scores: list(object({ session: text({ most: 40 }), value: number() }), 2, 100_000),
  }),
};
const values = variant("kind", kinds);
export type NormValues = Of<typeof values>;

const band = object({
  /** How many persons it is made of; null where that is not said. */
  n: nullable(whole(1, 1e8)),
  where: list(condition, 0, 10),
  values,
});
export type Band = Of<typeof band>;

/** Scores of a described sample against which a score is read. */
export const norm = object({
  /** The column of sessions that holds the score. */
  score: called,
  name: readableName(),
  source: text({ most: 1000 }),
  year: nullable(whole(1850, 2200)),
  /** Whether a higher raw score gives a higher percentile rank, or a lower one does. */
  better: oneOf("higher", "lower"),
  /** Reliability, from which intervals are made; null for none. */
  reliability: nullable(number({ least: 0, most: 1 })),
  /** Around which score the interval lies: the one obtained, or the true score that is estimated from it. */
  interval: oneOf("obtained", "true"),
  bands: list(band, 1, 500),
});
export type Norm = Of<typeof norm>;

/** A norm sample as a file of its own, to be used in another study. */
export const normFile = object({ form: only("lapwing-norm-1"), norm });

/** A band in words: “age 20 to 29, sex f”; empty for everybody. */
export const bandInWords = ({ where }: Pick<Band, "where">): string =>
  where
    .map(({ column, from, to, is }) => {
      if (is !== undefined) return `${column} ${is}`;
      if (from !== undefined && to !== undefined) return `${column} ${from} to ${to}`;
      return from !== undefined ? `${column} from ${from}` : `${column} up to ${to ?? ""}`;
    })
    .join(", ");

/** Everybody the sample is made of; null where a band does not say how many. */
export const sizeOf = ({ bands }: Norm): number | null =>
  bands.reduce<number | null>((sum, { n }) => (sum === null || n === null ? null : sum + n), 0);
