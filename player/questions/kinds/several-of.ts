import { otherId } from "~/core/questions/options";
import type { QuestionDrawer } from "../drawer";
import { group } from "../elements";
import { optionChoices } from "../options";

export const draw: QuestionDrawer<"several-of"> = (asking) => {
  const { question, value, answer } = asking;
  const isAlone = (id: string) => question.options.find((each) => each.id === id)?.alone === true;
  const tell = (touched: string) => {
    // What excludes the others takes their ticks away, and the other way round.
    if (choices.inputs.get(touched)?.checked)
      for (const [id, input] of choices.inputs)
        if (id !== touched && (isAlone(id) || isAlone(touched))) input.checked = false;
    const ticked = [...choices.inputs].flatMap(([id, input]) => (input.checked ? [id] : []));
    // In the order of the design, whatever the order shown.
    const options = [...question.options.map(({ id }) => id), otherId].filter((id) => ticked.includes(id));
    if (options.length === 0) return answer(null);
    answer({ options, ...(ticked.includes(otherId) ? { other: choices.other?.value ?? "" } : {}) });
  };
  const choices = optionChoices(
    asking,
    "checkbox",
    (id) => value?.options.includes(id) === true,
    value?.other ?? "",
    tell,
  );
  const list = group(asking, "group", "choices list");
  list.append(...choices.elements);
  return {
    element: list,
    focus: () => [...choices.inputs.values()][0]?.focus(),
    clear: () => choices.inputs.forEach((input) => (input.checked = false)),
  };
};
