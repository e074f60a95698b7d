import type { QuestionDrawer } from "../drawer";
import { field } from "../elements";

export const draw: QuestionDrawer<"time"> = (asking) => {
  const { value, answer } = asking;
  const input = field("input", asking, "short") as HTMLInputElement;
  Object.assign(input, { type: "time", value: value ?? "" });
  const tell = () => answer(input.value === "" ? null : input.value.slice(0, 5), input.validity.badInput ? "–" : "");
  input.addEventListener("input", tell);
  input.addEventListener("blur", tell);
  return { element: input, focus: () => input.focus(), clear: () => (input.value = "") };
};
