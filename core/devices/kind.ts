import type { Item } from "../items/registry";
import type { Shape } from "../shape/shape";
import type { Context } from "../values/context";
import type { DataColumn } from "../values/data-column";
import type { Id } from "../values/ref";
import type { Input } from "./input";

type AnyDevice = { device: string };

/** Everything the core knows about one way to answer. */
export type DeviceKindOf<D extends AnyDevice> = {
  shape: Shape<D>;
  /** A new one for a block that shows these items. */
  make: (items: readonly Item[]) => D;
  /** The answer this input stands for, or null when the device does not take it. */
  accepts: (device: D, input: Input, context: Context) => string | null;
  /** Every input the device takes in this trial, or null where they cannot be listed (a typed text). */
  possible: (device: D, context: Context, items: readonly Item[]) => Input[] | null;
  /** The input that gives a value, of devices whose inputs cannot be listed: for simulated participants. */
  giving?: (device: D, value: string) => Input;
  /** The items it is given by, each called what it takes. */
  items: (device: D) => { item: Id; takes: string }[];
  /** As set, no one can answer with it. */
  isEmpty: (device: D) => boolean;
  /** The ways to give it in the shown trial, in a word or two each. */
  inWords: (device: D, nameOf: (item: Id) => string, context: Context) => string[];
  /** Whether two answers by it are the same where they are compared to the letter; by their texts where this is left out. */
  areSame?: (a: string, b: string) => boolean;
  /** What the data tell of an answer by it beside the answer; names begin with the answer's own where a block has several. */
  columns?: readonly DataColumn<GivenInput>[];
  /** It is given with the pointer, which must therefore be visible. */
  isPointed: boolean;
  /** What an answer that is given by this device alone is called in messages. */
  called?: WayToAnswer;
};

/** An answer as it was given: the input, and the reaction time in milliseconds. */
export type GivenInput = { input: Input; rt: number };

export type WayToAnswer = {
  /** Where nothing is chosen yet. */
  nothing: string;
  /** The same as a problem. */
  problem: string;
  /** Everything it takes. */
  all: string;
};

/** The first item of a kind, or an empty id. */
export const firstOf = (items: readonly Item[], kind: Item["kind"]): Id =>
  items.find((item) => item.kind === kind)?.id ?? "";
