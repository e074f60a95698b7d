import type { Outcomes } from "../scores/score";
import type { PageRecord, SessionRecord } from "./record";

/** Whether a page was left so that its answers count: not where the participant went back from it, or away. */
export const countsPage = ({ left }: PageRecord): boolean => left !== "back" && left !== "withdrawn";

/** How the questions of a session stand, out of its records: the last time each page was left counts. */
export const outcomesIn = (records: readonly SessionRecord[]): Outcomes =>
  Object.fromEntries(
    records
      .filter((record): record is PageRecord => record.kind === "page" && countsPage(record))
      .flatMap(({ answers = [] }) =>
        answers.map(({ question, state, value }) => [question, { state, value }] as const),
      ),
  );
