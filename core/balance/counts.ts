import type { Id } from "../values/ref";
import type { RunningNode } from "../design/running-order";
import type { Way } from "../order/draw/draw";

/** How often things come in each position and follow each other: `at[thing][position]`, `after[first][second]`. */
export type BracketBalance = {
  bracket: Id;
  arrange: Extract<RunningNode, { kind: "bracket" }>["arrange"];
  things: string[];
  at: number[][];
  after: number[][];
  /** Participants who have this bracket. */
  participants: number;
  sentence: string;
};
export type CellBalance = { key: string; group: string; orders: string; planned: number };
/** Counts of rows over parts of a pass, and what chance gives on average: `seen[row][part]`. */
export type PassCounts = { seen: number[][]; expected: number[][]; replacement: boolean; trialsOfPass: number };
/** How a block's rows and one of its factors are spread over the drawn participants. */
export type BlockBalance = {
  part: Id;
  name: string;
  rows: number;
  trials: number;
  /** For each row how often it came in each part of a pass, and was to come there by chance; null where chance does not say. */
  inPass: PassCounts | null;
  /** For each row how often it came in each tenth of the block; bins are fewer in short blocks. */
  perTenth: number[][];
  uses: { least: number; most: number };
  factors: FactorBalance[];
  ways: Partial<Record<Way | "listed" | "given", number>>;
  isLimited: boolean;
  /** Participants whose order breaks a limit. */
  broken: number;
  sentences: string[];
};
export type FactorBalance = {
  column: string;
  levels: string[];
  /** How many runs of each length there were over all participants; the first is of length 1. */
  runs: number[];
  after: number[][];
  /** The same as a draw by chance gives on average from the same trials, without limits. */
  expected: number[][];
};
/** How often the rows of a pool were drawn into a column, at least and at most, for each level it is balanced over. */
export type PoolBalance = {
  block: Id;
  column: Id;
  name: string;
  levels: { name: string; least: number; most: number }[];
  /** Trials for which no row was left. */
  empty: number;
  sentences: string[];
};
export type Balance = {
  from: number;
  participants: number;
  cells: CellBalance[];
  cellsSentence: string;
  brackets: BracketBalance[];
  blocks: BlockBalance[];
  pools: PoolBalance[];
};
