import { numberIn } from "~/core/questions/number/number";
import { make } from "../../pages/page";
import type { QuestionDrawer } from "../drawer";
import { field } from "../elements";

export const draw: QuestionDrawer<"number"> = (asking) => {
  const { question, value, typed, answer } = asking;
  const element = make("div", "with-unit");
  const input = field("input", asking, "short") as HTMLInputElement;
  Object.assign(input, { type: "text", inputMode: question.decimals > 0 ? "decimal" : "numeric", maxLength: 30 });
  input.value = value === null ? typed : String(value);
  input.addEventListener("input", () => answer(numberIn(input.value), input.value));
  element.append(input, ...(question.unit === "" ? [] : [make("span", "unit", question.unit)]));
  return { element, focus: () => input.focus(), clear: () => (input.value = "") };
};
