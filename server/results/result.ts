import type { Store } from "../database/open";
import type { Study } from "../studies";

/** One kind of result. */
export type Result<Question, Answer> = {
  /** The question an address asks; the default if it says nothing, or something unknown. */
  ask: (query: URLSearchParams, study: Study) => Question;
  answer: (store: Store, study: Study, question: Question) => Promise<Answer>;
};
