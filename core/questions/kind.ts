import type { MediaKind } from "../media/types";
import type { Stream } from "../random/stream";
import type { Shape } from "../shape/shape";
import type { DataColumn } from "../values/data-column";
import type { Id, NewId, Scalar } from "../values/ref";
import type { WordingName } from "../wording/names";
import type { AnyQuestion } from "./base";

/** Why an answer cannot stay as it is, as participants read it. */
export type Problem = {
  words: WordingName;
  values?: Record<string, string | number>;
  /** Only a part of the answer is missing: what is there can stay where the question may be skipped. */
  isPartial?: true;
};
export type ValueType = Exclude<DataColumn<never>["type"], "whole number">;
/** A value an answer can have in the data, and what participants read for it. */
export type Level = { value: Scalar; label: string };

/** A piece of an answer with a column of its own: a statement, an option that can be ticked, the text beside “other”. */
export type AnswerPart<V> = {
  id: Id;
  /** The end of its column's name, behind the question's. */
  name: string;
  /** What participants read for it. */
  label: string;
  /** What its column holds, for the codebook. */
  says: string;
  type: ValueType;
  levels?: Level[];
  read: (value: V) => Scalar | null;
  /** What it brings to a score, reversed where it counts so. */
  score?: (value: V) => number | null;
};

/** What is shown in an order drawn for each session; `last` stay where they are, behind all others. */
export type DrawnOrder = {
  entries: { id: Id; name: string }[];
  how: "listed" | "shuffled" | "rotated";
  last: readonly Id[];
};
export type FileNeed = { kind: MediaKind; file: Id; what: string };
/** Something wrong with how a question is set. */
export type Flaw = { level: "error" | "warning"; message: string };

/** Everything the core knows about one kind of question; `V` is what an answer to it is. */
export type QuestionKindOf<Q extends AnyQuestion, V> = {
  /** What the kind is called, and the first name of a question of it. */
  says: string;
  stem: string;
  shape: Shape<Q>;
  value: Shape<V>;
  make: (newId: NewId, name: string) => Q;
  /** Why a value cannot stay; null where it can. It has the shape, whatever is in it. */
  problem: (question: Q, value: V) => Problem | null;
  /** What is said of something typed that is no answer. */
  whileTyping?: Problem;
  type: (question: Q) => ValueType;
  /** The answer as one value, for the data and for bindings. */
  read: (question: Q, value: V) => Scalar | null;
  /** The answer as participants read it; the value itself where this is left out. */
  label?: (question: Q, value: V) => string;
  levels?: (question: Q) => Level[];
  /** Where the answer has several columns instead of one. */
  parts?: (question: Q) => AnswerPart<V>[];
  /** Its parts are lines of their own, each with a row among the answers; else the answer is one value. */
  isOfLines?: true;
  /** Columns beside the answer's own. */
  beside?: (question: Q) => AnswerPart<V>[];
  /** What the answer brings to a score; null where it brings nothing. */
  score?: (question: Q, value: V) => number | null;
  /** Whether it is the right answer; null where none is. */
  isRight?: (question: Q, value: V) => boolean | null;
  order?: (question: Q) => DrawnOrder;
  /** An answer that somebody simulated gives. */
  guess: (question: Q, stream: Stream) => V;
  /** About how long it takes to answer, its text read. */
  seconds: (question: Q) => number;
  files?: (question: Q) => FileNeed[];
  flaws?: (question: Q) => Flaw[];
};

/** One of a list, each equally likely. */
export const oneFrom = <T>(list: readonly T[], stream: Stream): T | undefined =>
  list.length === 0 ? undefined : list[stream.whole(0, list.length - 1)];
