import { make } from "../pages/page";

/** Sets attributes at once; null ones are left out. */
export function setAll<E extends HTMLElement>(element: E, attributes: Record<string, string | null>): E {
  for (const [name, value] of Object.entries(attributes)) if (value !== null) element.setAttribute(name, value);
  return element;
}

type Named = { labelledBy: string; describedBy: string };

/** A field to type into, named by its question. */
export function field(kind: "input" | "textarea", { labelledBy, describedBy }: Named, className = "") {
  const element = make(kind, className) as HTMLInputElement | HTMLTextAreaElement;
  setAll(element, { "aria-labelledby": labelledBy, "aria-describedby": describedBy, autocomplete: "off" });
  return element;
}

/** A group of choices, named by its question. */
export const group = ({ labelledBy, describedBy }: Named, role: "radiogroup" | "group", className: string) =>
  setAll(make("div", className), { role, "aria-labelledby": labelledBy, "aria-describedby": describedBy });

/** A radio button or tick box with its label; the label is what is pressed. */
export function choice(type: "radio" | "checkbox", name: string, value: string, text: string | Node, isOn: boolean) {
  const label = make("label", "choice");
  const input = make("input", "");
  Object.assign(input, { type, name, value, checked: isOn });
  const says = make("span", "says");
  says.append(text);
  label.append(input, says);
  return { label, input };
}
