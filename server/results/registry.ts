import type { Store } from "../database/open";
import type { Study } from "../studies";
import { conditions } from "./conditions";
import { records } from "./records";
import type { Result } from "./result";
import { timing } from "./timing";

/** The results there are, in the order of their tabs. Each has its view in `app/results/views/`, in a file of its name. */
export const results = { conditions, timing, records };

type Results = typeof results;
export type ResultName = keyof Results;
export const resultNames = Object.keys(results) as ResultName[];
export type QuestionOf<Name extends ResultName> = ReturnType<Results[Name]["ask"]>;
export type AnswerOf<Name extends ResultName> = Awaited<ReturnType<Results[Name]["answer"]>>;
export type Answered = { name: ResultName; question: unknown; answer: unknown };

/** The result the address asks for (`?tab=NAME`), answered; the first result if it names none. */
export async function answered(store: Store, study: Study, query: URLSearchParams): Promise<Answered> {
  const name = resultNames.find((each) => each === query.get("tab")) ?? "conditions";
  const result = results[name] as Result<unknown, unknown>;
  const question = result.ask(query, study);
  return { name, question, answer: await result.answer(store, study, question) };
}
