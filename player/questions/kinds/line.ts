import { onStep } from "~/core/questions/line/line";
import { words } from "../../facts";
import { make } from "../../pages/page";
import type { QuestionDrawer } from "../drawer";
import { field } from "../elements";

/** Keys that move a mark; the first of them sets it. */
const moving = ["ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown", "Home", "End", "PageUp", "PageDown", " ", "Enter"];

export const draw: QuestionDrawer<"line"> = (asking) => {
  const { question, value, answer } = asking;
  const { from, to, step } = question;
  const element = make("div", "marked-line");
  const input = field("input", asking) as HTMLInputElement;
  Object.assign(input, { type: "range", min: String(from), max: String(to), step: String(step) });
  const shown = make("output", "value");
  const show = (marked: number | null) => {
    element.classList.toggle("unmarked", marked === null);
    input.setAttribute("aria-valuetext", marked === null ? words("notMarked") : String(marked));
    shown.textContent = marked === null ? " " : String(marked);
  };
  input.value = String(value ?? onStep(question, (from + to) / 2));
  const mark = () => {
    const marked = onStep(question, Number(input.value));
    show(marked);
    answer(marked);
  };
  input.addEventListener("input", mark);
  // A mark just where the line would have it without one is a mark too.
  input.addEventListener("pointerup", mark);
  input.addEventListener("keydown", ({ key }) => {
    if (moving.includes(key) && element.classList.contains("unmarked")) mark();
  });
  show(value);
  const ends = make("div", "ends");
  ends.append(
    make("span", "", question.left),
    ...(question.middle === "" ? [] : [make("span", "", question.middle)]),
    make("span", "", question.right),
  );
  element.append(...(question.showsValue ? [shown] : []), input, ends);
  return {
    element,
    focus: () => input.focus(),
    clear: () => show(null),
  };
};
