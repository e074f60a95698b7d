import type { MediaKind } from "../media/types";
import type { Stream } from "../random/stream";
import type { Shape } from "../shape/shape";
import type { ArrayElement, Context, RowContext } from "../values/context";
import type { DataColumn } from "../values/data-column";
import type { Bindable, Id, NewId, Scalar } from "../values/ref";
import type { AnyItem } from "./base";
import type { Observation } from "./observation";

/** A number an item is drawn by: what messages call it, and the smallest one that can be drawn. */
export type Measure = { what: string; value: Bindable<Scalar>; least: number };
export type MediaNeed = { kind: MediaKind; value: Bindable<string> };
/** Something wrong with an item that its shape cannot say; `row` is that of the trial table in which it shows. */
export type ItemProblem = {
  level: "error" | "warning";
  message: string;
  row?: Id | undefined;
  /** The column the wrong value comes from. */
  column?: Id | undefined;
};

/** What a trial's record holds of one item. */
export type SeenItem = { observed: readonly Observation[]; placed: readonly ArrayElement[] | undefined };
/** A column of the exported data that one item has. Its name is only the end: `sent` becomes `<scene>_<item>_sent`. */
export type ItemColumn = DataColumn<SeenItem>;

/** Gives the study's first media file of a kind, or an empty id. */
export type FirstFile = (kind: MediaKind) => Id;

/** Everything the core knows about one kind of item. */
export type ItemKindOf<T extends AnyItem> = {
  shape: Shape<T>;
  make: (newId: NewId, name: string, first: FirstFile) => T;
  /** The numbers it is drawn by, beside those that all items have. */
  measures: (item: T) => Measure[];
  media: (item: T) => MediaNeed[];
  /** Families of the letters it shows. */
  fonts?: (item: T) => readonly string[];
  /** For kinds that play: how long from onset, in ms; 0 if it does not end by itself. */
  playsMs?: (item: T, context: Context) => number;
  /** For kinds with random parts: what is drawn for one trial. */
  draw?: (item: T, context: Context, stream: Stream) => ArrayElement[];
  /** The most elements it can draw for one trial. */
  mostDrawn?: (item: T) => number;
  problems?: (item: T, rows: readonly RowContext[]) => ItemProblem[];
  columns?: (item: T) => ItemColumn[];
  /** What pointing at it can stand for; its name where this is left out. */
  pointed?: (item: T) => string[];
  /** Of kinds whose own timing is reported: which observation tells that it was shown once. */
  timedBy?: Observation["what"];
  /** Participants operate it, so the pointer must be visible. */
  isWorked?: true;
};

/** No number is too small. */
export const anyMeasure = -Infinity;
/** Sizes: anything that can be seen. */
export const someMeasure = 0.01;
export const noMedia = (): MediaNeed[] => [];
/** The measure of items with letters. */
export const letterSize = ({ fontSize }: { fontSize: Bindable<number> }): Measure[] => [
  { what: "its letter size", value: fontSize, least: someMeasure },
];
