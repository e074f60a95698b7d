import { object } from "../../shape/compound";
import { text } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { asked, freshlyAsked } from "../base";
import type { QuestionKindOf } from "../kind";

const shape = object(asked("time"));
export interface TimeQuestion extends Of<typeof shape> {}

const form = /^(?:[01]\d|2[0-3]):[0-5]\d$/;

export const time: QuestionKindOf<TimeQuestion, string> = {
  says: "time of day",
  stem: "time",
  shape,
  value: text({ most: 5 }),
  make: (newId, name) => freshlyAsked("time", newId, name, "At what time was it?"),
  problem: (_, given) => (form.test(given) ? null : { words: "timePlease" }),
  whileTyping: { words: "timePlease" },
  type: () => "text",
  read: (_, given) => given,
  guess: (_, stream) =>
    `${String(stream.whole(6, 22)).padStart(2, "0")}:${String(5 * stream.whole(0, 11)).padStart(2, "0")}`,
  seconds: () => 8,
};
