import type { DataReader } from "../export/reader";

/** One kind of result. */
export type Result<Question, Answer> = {
  /** The question an address asks of these data; the default if it says nothing, or something unknown. */
  ask: (query: URLSearchParams, reader: DataReader) => Question;
  answer: (reader: DataReader, question: Question) => Promise<Answer>;
};
