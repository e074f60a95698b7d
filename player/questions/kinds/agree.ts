import type { QuestionDrawer } from "../drawer";
import { choice, group } from "../elements";

export const draw: QuestionDrawer<"agree"> = (asking) => {
  const { question, value, answer } = asking;
  const { label, input } = choice("checkbox", asking.groupName, "yes", question.label, value === true);
  input.addEventListener("change", () => answer(input.checked ? true : null));
  const element = group(asking, "group", "choices list");
  element.append(label);
  return { element, focus: () => input.focus(), clear: () => (input.checked = false) };
};
