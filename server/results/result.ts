import type { Store } from "../database/open";
import type { Study } from "../studies";

/** One way of looking at what was collected. */
export type Result<Question, Answer> = {
  /** What an address asks; the usual where it says nothing, or something that is not there. */
  ask: (query: URLSearchParams, study: Study) => Question;
  answer: (store: Store, study: Study, question: Question) => Promise<Answer>;
};
