import { object } from "../../shape/compound";
import { text } from "../../shape/plain";
import { optional, type Of } from "../../shape/shape";
import { asked, freshlyAsked } from "../base";
import type { QuestionKindOf } from "../kind";

const form = /^\d{4}-\d{2}-\d{2}$/;
const day = text({ pattern: form, otherwise: "must be a date such as 2026-11-26" });
const shape = object({ ...asked("date"), earliest: optional(day), latest: optional(day) });
export interface DateQuestion extends Of<typeof shape> {}

/** Whether a text is a day that there is. */
export function isDay(typed: string): boolean {
  const [year = 0, month = 0, at = 0] = typed.split("-").map(Number);
  const last = [
    31,
    year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0) ? 29 : 28,
    31,
    30,
    31,
    30,
    31,
    31,
    30,
    31,
    30,
    31,
  ];
  return form.test(typed) && month >= 1 && month <= 12 && at >= 1 && at <= (last[month - 1] ?? 0);
}

export const date: QuestionKindOf<DateQuestion, string> = {
  says: "date",
  stem: "date",
  shape,
  value: text({ most: 10 }),
  make: (newId, name) => freshlyAsked("date", newId, name, "On which day was it?"),
  problem: ({ earliest, latest }, given) => {
    if (!isDay(given)) return { words: "datePlease" };
    if (earliest !== undefined && given < earliest) return { words: "dateEarliest", values: { earliest } };
    return latest !== undefined && given > latest ? { words: "dateLatest", values: { latest } } : null;
  },
  whileTyping: { words: "datePlease" },
  type: () => "text",
  read: (_, given) => given,
  guess: ({ earliest, latest }) => earliest ?? latest ?? "2026-05-14",
  seconds: () => 8,
  flaws: ({ earliest, latest }) =>
    earliest !== undefined && latest !== undefined && earliest > latest
      ? [{ level: "error", message: "The earliest day is later than the latest. Change one of them." }]
      : [],
};
