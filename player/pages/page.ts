import type { FormattedText } from "~/core/values/formatted-text";
import type { Context } from "~/core/values/context";
import { drawFormattedText } from "../stage/formatted-text";

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

/**
 * What a page of the study shows beside its text: how much is done (0 to 1), and how long participants cannot continue.
 */
type Around = {
  share: number | null;
  shareLabel: string;
  leastSeconds?: number;
  waitLabel?: (seconds: number) => string;
};

/** A page of the study; settled when the participant continues. */
export async function showStudyPage(
  into: HTMLElement,
  body: FormattedText,
  label: string,
  context: Context,
  { share, shareLabel, leastSeconds = 0, waitLabel }: Around,
): Promise<void> {
  const page = make("div", "page");
  const text = make("div", "body");
  drawFormattedText(text, body, context);
  page.append(text);
  into.replaceChildren(page);
  if (share !== null) {
    const bar = make("progress", "progress");
    bar.max = 1;
    bar.value = share;
    bar.setAttribute("aria-label", shareLabel);
    into.append(bar);
  }
  if (leastSeconds > 0) {
    const note = make("p", "wait");
    page.append(note);
    for (let left = Math.ceil(leastSeconds); left > 0; left--) {
      note.textContent = waitLabel?.(left) ?? "";
      await new Promise((resolve) => setTimeout(resolve, 1000));
    }
    note.remove();
  }
  await pressed(page, [label]);
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

/** The last page: thanks and the completion code. */
export function showEnding(into: HTMLElement, thanks: string[], codeLabel: string, code: string | null): void {
  const page = make("div", "page ending");
  const [title = "", ...sentences] = thanks;
  page.append(make("h1", "", title), ...sentences.map((sentence) => make("p", "", sentence)));
  if (code) page.append(make("p", "", codeLabel), make("output", "code", code));
  page.setAttribute("role", "status");
  into.replaceChildren(page);
}
