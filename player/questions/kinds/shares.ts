import { numberIn } from "~/core/questions/number/number";
import { sumOf } from "~/core/questions/shares/shares";
import type { Id } from "~/core/values/ref";
import { words } from "../../facts";
import { make } from "../../pages/page";
import type { QuestionDrawer } from "../drawer";
import { group, setAll } from "../elements";
import { inOrder } from "../options";

export const draw: QuestionDrawer<"shares"> = (asking) => {
  const { question, order, value, answer } = asking;
  const each: Record<Id, number> = { ...value?.each };
  const element = group(asking, "group", "shares");
  const sum = setAll(make("p", "sum"), { role: "status" });
  const show = () => {
    const now = sumOf(each);
    sum.textContent = words("sharesSoFar", { sum: now, total: question.total });
    sum.classList.toggle("whole", now === question.total);
  };
  const inputs = inOrder(question, order).map(({ id, label }) => {
    const row = make("label", "share");
    const input = make("input", "short");
    Object.assign(input, {
      type: "text",
      inputMode: "decimal",
      maxLength: 12,
      value: id in each ? String(each[id]) : "",
    });
    input.addEventListener("input", () => {
      const number = numberIn(input.value);
      if (number === null || number < 0) delete each[id];
      else each[id] = number;
      const isTyped = input.value.trim() !== "" && (number === null || number < 0);
      input.setAttribute("aria-invalid", String(isTyped));
      show();
      answer(Object.keys(each).length > 0 ? { each: { ...each } } : null, isTyped ? input.value : "");
    });
    row.append(
      make("span", "says", label),
      input,
      ...(question.unit === "" ? [] : [make("span", "unit", question.unit)]),
    );
    element.append(row);
    return input;
  });
  show();
  element.append(sum);
  return {
    element,
    focus: () => inputs[0]?.focus(),
    clear: () => {
      for (const input of inputs) input.value = "";
      for (const id of Object.keys(each)) delete each[id];
      show();
    },
  };
};
