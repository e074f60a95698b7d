import { make } from "../../pages/page";
import type { QuestionDrawer } from "../drawer";
import { group } from "../elements";
import { pointChoices, pointText } from "../points";

export const draw: QuestionDrawer<"scale"> = (asking) => {
  const { question, value, answer, groupName } = asking;
  const { labels, apart, inputs, clear } = pointChoices(
    question,
    groupName,
    value?.point,
    (point) => answer({ point }),
    (point) => pointText(question, point),
  );
  const element = group(asking, "radiogroup", "scale");
  const row = make("div", "points");
  row.style.setProperty("--points", String(question.points));
  row.append(...labels);
  element.append(row, ...(apart ? [apart] : []));
  return { element, focus: () => (inputs.find(({ checked }) => checked) ?? inputs[0])?.focus(), clear };
};
