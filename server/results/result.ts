import type { Store } from "../database/open";
import type { DataReader } from "../export/reader";
import type { Rule } from "../../core/exclusions/registry";
import type { TidyData } from "../tidy/tidy-data";

/** The data a question is about. */
export type Data = {
  store: Store;
  /** All sessions that are no rehearsals, whatever is asked about, with their rows. */
  everybody: { reader: DataReader; rows: TidyData };
  reader: DataReader;
  /** The same sessions as columns; without rehearsals. */
  tidy: <Answer>(ask: (data: TidyData) => Promise<Answer>) => Promise<Answer>;
  /** By which some of it is left out: the columns of trials and sessions tell what. */
  rules: readonly Rule[];
};

/** One kind of result. */
export type Result<Question, Answer> = {
  /** The question an address asks of these data; the default if it says nothing, or something unknown. */
  ask: (query: URLSearchParams, reader: DataReader) => Question;
  answer: (data: Data, question: Question) => Promise<Answer>;
  /** It shows what is left out, too. */
  showsLeftOut?: true;
};
