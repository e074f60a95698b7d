import { codeAsStored } from "~/core/questions/own-code/own-code";
import { words } from "../../facts";
import { make } from "../../pages/page";
import type { QuestionDrawer } from "../drawer";
import { field, setAll } from "../elements";

export const draw: QuestionDrawer<"own-code"> = (asking) => {
  const { question, value, typed, answer } = asking;
  const element = make("div", "own-code");
  const rule = make("ol", "rule");
  for (const { hint } of question.pieces) rule.append(make("li", "", hint));
  const input = field("input", asking, "short") as HTMLInputElement;
  Object.assign(input, { type: "text", value: value ?? typed, maxLength: 100, spellcheck: false });
  const again = make("input", "short");
  Object.assign(again, { type: "text", value: value ?? "", maxLength: 100, spellcheck: false });
  setAll(again, { autocomplete: "off" });
  const tell = () => {
    const code = codeAsStored(input.value);
    const isSame = !question.twice || code === codeAsStored(again.value);
    answer(code === "" || !isSame ? null : code, input.value);
  };
  input.addEventListener("input", tell);
  again.addEventListener("input", tell);
  element.append(rule, input);
  if (question.twice) {
    const label = make("label", "again", words("codeAgain"));
    label.append(again);
    element.append(label);
  }
  return {
    element,
    focus: () => input.focus(),
    clear: () => {
      input.value = "";
      again.value = "";
    },
  };
};
