import { charactersIn } from "~/core/questions/written";
import { words } from "../../facts";
import { make } from "../../pages/page";
import type { QuestionDrawer } from "../drawer";
import { field } from "../elements";

/** So near to the longest text, as a share of it, the characters are counted whatever the study says. */
const near = 0.9;

export const draw: QuestionDrawer<"long-text"> = (asking) => {
  const { question, value, answer } = asking;
  const element = make("div", "long");
  const area = field("textarea", asking, "wide") as HTMLTextAreaElement;
  Object.assign(area, { rows: question.lines, value: value ?? "", maxLength: 20_000 });
  const counter = make("p", "counter");
  counter.setAttribute("aria-live", "polite");
  const { most } = question;
  const count = () => {
    const now = charactersIn(area.value);
    const isTold = question.counts || (most !== undefined && now > near * most);
    counter.textContent = !isTold
      ? ""
      : most === undefined
        ? words("characters", { now })
        : words("charactersOf", { now, most });
    counter.classList.toggle("problem", most !== undefined && now > most);
  };
  area.addEventListener("input", () => {
    count();
    answer(area.value === "" ? null : area.value);
  });
  count();
  element.append(area, counter);
  return {
    element,
    focus: () => area.focus(),
    clear: () => {
      area.value = "";
      count();
    },
  };
};
