import type { QuestionDrawer } from "../drawer";
import { field } from "../elements";

export const draw: QuestionDrawer<"short-text"> = (asking) => {
  const { question, value, answer } = asking;
  const input = field("input", asking, (question.most ?? 99) > 20 ? "wide" : "short") as HTMLInputElement;
  Object.assign(input, { type: "text", value: value ?? "", maxLength: 4000 });
  input.addEventListener("input", () => answer(input.value === "" ? null : input.value));
  return { element: input, focus: () => input.focus(), clear: () => (input.value = "") };
};
