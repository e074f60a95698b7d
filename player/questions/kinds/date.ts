import type { QuestionDrawer } from "../drawer";
import { field } from "../elements";

export const draw: QuestionDrawer<"date"> = (asking) => {
  const { question, value, answer } = asking;
  const input = field("input", asking, "short") as HTMLInputElement;
  Object.assign(input, {
    type: "date",
    value: value ?? "",
    min: question.earliest ?? "",
    max: question.latest ?? "9999-12-31",
  });
  const tell = () => answer(input.value === "" ? null : input.value, input.validity.badInput ? "–" : "");
  input.addEventListener("input", tell);
  input.addEventListener("blur", tell);
  return { element: input, focus: () => input.focus(), clear: () => (input.value = "") };
};
