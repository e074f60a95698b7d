import type { Shape } from "../shape/shape";

/** What every limit says: which kind it is. The rest is the kind's own. */
type AnyLimit = { kind: string };

/** A limit sees only the class of each kind of trial: which of the limit's values it has. */
export type Classed = {
  /** For each kind of trial its class: which of the limit's values (or combinations) it has. */
  classOf: Int32Array;
  /** What each class is called, for messages. */
  labels: string[];
  /** What the limit looks at, for messages: a column's name, several joined, or "row". */
  subject: string;
  /** Trials in the whole block. */
  total: number;
  /** Trials of each class in the whole block; all infinite where rows are drawn with replacement. */
  counts: number[];
};

/**
 * Counts each value following each other. The sampler takes transitions out and puts them in; `cost` is how far the
 * table of transitions is from what is allowed, 0 when it is.
 */
export type Transitions = {
  reset: (kinds: Int32Array) => void;
  /** Takes the transition that ends at this index out of the table, or puts it in. */
  remove: (kinds: Int32Array, at: number) => void;
  add: (kinds: Int32Array, at: number) => void;
  cost: () => number;
};

/** What is remembered of the trials so far, as one number below `size`; enough to judge every trial to come. */
export type Memory = {
  size: number;
  start: number;
  /** The memory after one more trial at this index (from 0), or −1 where the limit forbids it. */
  step: (memory: number, kind: number, at: number) => number;
  /** Whether the block may end so. */
  mayEnd: (memory: number) => boolean;
};

/** A limit put to one block's trials. */
export type Bound = {
  /** How many trials back a judgement looks. */
  reach: number;
  /**
   * How much is broken by the trials from one index to another, both included, given those before them; 0 for nothing.
   * Not used where `transitions` is there.
   */
  broken: (kinds: Int32Array, from: number, to: number) => number;
  transitions?: Transitions;
  /** Null where there would be too much to remember. */
  memory: Memory | null;
};

/** Everything the core knows about one kind of limit. */
export type LimitKindOf<L extends AnyLimit> = {
  shape: Shape<L>;
  /** How a method section puts it, after “all orders with …”. */
  inWords: (limit: L, names: Names) => string;
  bind: (limit: L, classed: Classed) => Bound;
  /** Why no order of these trials can satisfy it, proved from the counts; null where the counts alone do not say so. */
  contradiction: (limit: L, classed: Classed) => string | null;
  columns: (limit: L) => readonly string[];
  /** What holds over the whole block holds within each pass and sub-block too; not where it looks at the block's edges, or at all its transitions. */
  holdsWithin: boolean;
};
/** How the columns of a limit are called: “direction”, “direction and gap together”, “row” for none. */
export type Names = { of: (columns: readonly string[]) => string; values: (values: readonly unknown[]) => string };

/** “1 trial”, “2 trials”. */
export const counted = (count: number, one: string, many: string = `${one}s`): string =>
  `${count} ${count === 1 ? one : many}`;

/** More than this many things to remember are not counted through. */
export const mostMemory = 2 ** 40;
