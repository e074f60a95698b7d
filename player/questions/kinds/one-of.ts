import { otherId } from "~/core/questions/options";
import { words } from "../../facts";
import { make } from "../../pages/page";
import type { QuestionDrawer } from "../drawer";
import { group, setAll } from "../elements";
import { inOrder, optionChoices } from "../options";

export const draw: QuestionDrawer<"one-of"> = (asking) => {
  const { question, value, answer } = asking;
  const tell = () => {
    const on = [...choices.inputs].find(([, input]) => input.checked)?.[0];
    if (on === undefined) return answer(null);
    answer(on === otherId ? { option: on, other: choices.other?.value ?? "" } : { option: on });
  };
  const choices = optionChoices(asking, "radio", (id) => value?.option === id, value?.other ?? "", tell);
  const list = group(asking, "radiogroup", `choices ${question.layout}`);
  list.append(...choices.elements);
  const clear = () => choices.inputs.forEach((input) => (input.checked = false));
  const first = () => [...choices.inputs.values()].find(({ checked }) => checked) ?? [...choices.inputs.values()][0];
  if (question.layout !== "menu") return { element: list, focus: () => first()?.focus(), clear };

  // A list that unfolds, with a field to search it.
  const element = make("div", "menu");
  const button = setAll(make("button", "chosen"), {
    type: "button",
    "aria-haspopup": "true",
    "aria-expanded": "false",
    "aria-labelledby": `${asking.labelledBy} ${asking.groupName}-chosen`,
    "aria-describedby": asking.describedBy,
    id: `${asking.groupName}-chosen`,
  });
  const panel = make("div", "unfolded");
  const search = setAll(make("input", ""), {
    type: "search",
    "aria-label": words("searchOptions"),
    autocomplete: "off",
  });
  search.placeholder = words("searchOptions");
  const none = make("p", "none", words("noneFound"));
  none.hidden = true;
  panel.append(search, list, none);
  panel.hidden = true;
  const labelOf = new Map(inOrder(question, asking.order).map(({ id, label }) => [id, label]));
  const show = () => {
    const on = [...choices.inputs].find(([, input]) => input.checked)?.[0];
    button.textContent = on === undefined ? words("chooseOne") : (labelOf.get(on) ?? choices.other?.value ?? "");
  };
  const fold = (isOpen: boolean) => {
    panel.hidden = !isOpen;
    button.setAttribute("aria-expanded", String(isOpen));
    if (isOpen) search.focus();
  };
  const filter = () => {
    const wanted = search.value.trim().toLocaleLowerCase();
    let found = 0;
    for (const [id, input] of choices.inputs) {
      const isIn = id === otherId || (labelOf.get(id) ?? "").toLocaleLowerCase().includes(wanted);
      const row = input.closest<HTMLElement>(".other") ?? input.closest<HTMLElement>("label");
      if (row) row.hidden = !isIn;
      if (isIn) found++;
    }
    none.hidden = found > 0;
  };
  button.addEventListener("click", () => fold(panel.hidden !== false));
  search.addEventListener("input", filter);
  search.addEventListener("keydown", (event) => {
    if (event.key !== "ArrowDown" && event.key !== "Enter") return;
    event.preventDefault();
    const shown = [...choices.inputs.values()].find((input) => input.closest<HTMLElement>("label")?.hidden !== true);
    shown?.focus();
    if (event.key === "Enter") shown?.click();
  });
  list.addEventListener("click", (event) => {
    // A press on an option chooses it and folds the list; moving through it by arrows does not.
    if (event.detail > 0 && event.target instanceof HTMLInputElement && event.target.value !== otherId) {
      fold(false);
      button.focus();
    }
  });
  panel.addEventListener("keydown", (event) => {
    if (event.key !== "Escape" && !(event.key === "Enter" && event.target !== search)) return;
    event.stopPropagation();
    event.preventDefault();
    fold(false);
    button.focus();
  });
  element.addEventListener("focusout", ({ relatedTarget }) => {
    if (relatedTarget instanceof Node && !element.contains(relatedTarget)) fold(false);
  });
  list.addEventListener("change", show);
  list.addEventListener("input", show);
  show();
  element.append(button, panel);
  return {
    element,
    focus: () => button.focus(),
    clear: () => {
      clear();
      show();
    },
  };
};
