import { otherId, type Option } from "~/core/questions/options";
import type { Id } from "~/core/values/ref";
import { make } from "../pages/page";
import { choice, setAll } from "./elements";

type Offered = { options: Option[]; other?: string | undefined };

/** The options in the order in which they are shown; “other” comes last. */
export const inOrder = ({ options }: Offered, order: Id[] | null): Option[] =>
  order ? order.flatMap((id) => options.find((each) => each.id === id) ?? []) : options;

export type Choices = {
  elements: HTMLElement[];
  inputs: Map<Id, HTMLInputElement>;
  /** The field beside “other”. */
  other: HTMLInputElement | null;
};

/** Options to choose or tick, with a field beside “other”. `changed` is called after anything is. */
export function optionChoices(
  {
    question,
    order,
    mediaUrl,
    groupName,
  }: { question: Offered; order: Id[] | null; mediaUrl: (id: Id) => string | null; groupName: string },
  type: "radio" | "checkbox",
  isOn: (id: Id) => boolean,
  otherText: string,
  changed: (id: Id) => void,
): Choices {
  const inputs = new Map<Id, HTMLInputElement>();
  const elements = inOrder(question, order).map((option) => {
    const { label, input } = choice(type, groupName, option.id, content(option, mediaUrl), isOn(option.id));
    inputs.set(option.id, input);
    input.addEventListener("change", () => changed(option.id));
    if (option.picture !== undefined) label.classList.add("pictured");
    return label as HTMLElement;
  });
  if (question.other === undefined) return { elements, inputs, other: null };
  const row = make("div", "other");
  const { label, input } = choice(type, groupName, otherId, question.other, isOn(otherId));
  const other = make("input", "");
  Object.assign(other, { type: "text", value: otherText, maxLength: 1000 });
  setAll(other, { "aria-label": question.other, autocomplete: "off" });
  inputs.set(otherId, input);
  input.addEventListener("change", () => {
    if (input.checked) other.focus();
    changed(otherId);
  });
  other.addEventListener("input", () => {
    input.checked = input.checked || other.value !== "";
    changed(otherId);
  });
  row.append(label, other);
  return { elements: [...elements, row], inputs, other };
}

function content({ label, picture }: Option, mediaUrl: (id: Id) => string | null): Node {
  const url = picture === undefined ? null : mediaUrl(picture);
  if (url === null) return document.createTextNode(label);
  const both = document.createDocumentFragment();
  const image = make("img", "");
  image.src = url;
  image.alt = "";
  both.append(image, make("span", "", label));
  return both;
}
