import type { ShownEnd } from "~/core/collect/ends";
import { words } from "../facts";

/** Makes an element of a class with a text. */
export const make = <K extends keyof HTMLElementTagNameMap>(
  tag: K,
  className: string,
  text = "",
): HTMLElementTagNameMap[K] => {
  const element = document.createElement(tag);
  element.className = className;
  if (text) element.textContent = text;
  return element;
};

/** A calm page of plain sentences, under a title where there is one. Read out by screen readers as it comes. */
export function say(into: HTMLElement, sentences: string[], title?: string): HTMLElement {
  const page = make("div", "page");
  page.setAttribute("role", "status");
  if (title) page.append(make("h1", "", title));
  for (const sentence of sentences) page.append(make("p", "", sentence));
  into.replaceChildren(page);
  return page;
}

/** The same with buttons, the first of them the one that is meant; gives the index of the one pressed. */
export function ask(into: HTMLElement, sentences: string[], buttons: string[], title?: string): Promise<number> {
  return pressed(say(into, sentences, title), buttons);
}

/** How much of the study is done, 0 to 1, with what is said of it. */
export type Share = { done: number; says: string };

/** The bar that tells how much is done. */
export function shareBar({ done, says }: Share): HTMLElement {
  const bar = make("progress", "progress");
  Object.assign(bar, { max: 1, value: done });
  bar.setAttribute("aria-label", says);
  return bar;
}

/** Puts buttons under a page and resolves with the index of the one pressed. */
export function pressed(page: HTMLElement, labels: string[]): Promise<number> {
  const row = make("div", "buttons");
  page.append(row);
  return new Promise((resolve) => {
    labels.forEach((label, index) => {
      const button = make("button", index === 0 ? "" : "second", label);
      button.type = "button";
      button.addEventListener("click", () => resolve(index), { once: true });
      row.append(button);
      if (index === 0) button.focus({ preventScroll: true });
    });
  });
}

/** A button that is not what is meant by a page: a key that was still to come does not press it. */
export function quietButton(label: string): HTMLElement {
  const row = make("div", "buttons");
  const button = make("button", "second", label);
  button.type = "button";
  row.append(button);
  return row;
}

/** Hands a file to the participant under a name. */
export function saveFile(name: string, file: Blob): void {
  const link = make("a", "");
  link.href = URL.createObjectURL(file);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
}

/** A bar that fills while something is loaded; call what it gives with the share done. */
export function showLoading(into: HTMLElement, label: string): (share: number) => void {
  const page = make("div", "page loading");
  const bar = make("progress", "");
  bar.max = 1;
  bar.value = 0;
  bar.setAttribute("aria-label", label);
  const number = make("span", "number", "0 %");
  const line = make("p", "", `${label} `);
  line.append(number);
  page.append(line, bar);
  into.replaceChildren(page);
  return (share) => {
    bar.value = share;
    number.textContent = `${Math.min(100, Math.floor(share * 100))} %`;
  };
}

/** Says why nobody can begin, with what the link shows those who come when it is full. */
export const sayWhy = (into: HTMLElement, why: string, full: ShownEnd | null): void =>
  closing(say(into, [why]), words("code"), full?.code ?? null, full?.address ?? null);

/** Under a last page, a code to note and a button that leads away, where there are such. */
export function closing(page: HTMLElement, label: string, code: string | null, address: string | null): void {
  if (code) page.append(make("p", "", label), make("output", "code", code));
  if (address) page.append(leading(address, words("goOn")));
}

/** A button that leads to another page. */
export function leading(address: string, label: string, look = ""): HTMLElement {
  const row = make("div", "buttons");
  const link = make("a", `button ${look}`, label);
  link.href = address;
  row.append(link);
  return row;
}
