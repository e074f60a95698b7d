import type { FormattedText } from "~/core/design/types";
import type { Context } from "~/core/run/resolve";
import { drawFormattedText } from "../stage/formatted-text";

const make = <K extends keyof HTMLElementTagNameMap>(
  tag: K,
  className: string,
  text = "",
): HTMLElementTagNameMap[K] => {
  const element = document.createElement(tag);
  element.className = className;
  if (text) element.textContent = text;
  return element;
};

/** A calm page of plain sentences, with a button where there is something to press. Settled when it is pressed. */
export function say(into: HTMLElement, sentences: string[], button?: string, title?: string): Promise<void> {
  const page = make("div", "page");
  if (title) page.append(make("h1", "", title));
  for (const sentence of sentences) page.append(make("p", "", sentence));
  into.replaceChildren(page);
  return button ? pressed(page, button) : Promise.resolve();
}

/** A page of the study; settled when the participant goes on. `progress` is the share of the session done, or null. */
export function showStudyPage(
  into: HTMLElement,
  body: FormattedText,
  label: string,
  context: Context,
  progress: number | null,
): Promise<void> {
  const page = make("div", "page");
  const text = make("div", "body");
  drawFormattedText(text, body, context);
  page.append(text);
  into.replaceChildren(page);
  if (progress !== null) {
    const bar = make("progress", "progress");
    bar.max = 1;
    bar.value = progress;
    bar.setAttribute("aria-label", `${Math.round(progress * 100)} % done`);
    into.append(bar);
  }
  return pressed(page, label);
}

function pressed(page: HTMLElement, label: string): Promise<void> {
  const button = make("button", "", label);
  button.type = "button";
  page.append(button);
  button.focus({ preventScroll: true });
  return new Promise((resolve) => button.addEventListener("click", () => resolve(), { once: true }));
}

/** A bar that fills while something is loaded; call what it gives with the share done. */
export function showLoading(into: HTMLElement, label: string): (share: number) => void {
  const page = make("div", "page loading");
  const bar = make("progress", "");
  bar.max = 1;
  bar.value = 0;
  bar.setAttribute("aria-label", label);
  page.append(make("p", "", label), bar);
  into.replaceChildren(page);
  return (share) => void (bar.value = share);
}

/** The last page: thanks and the completion code. */
export function showEnding(into: HTMLElement, thanks: string, codeLabel: string, code: string | null): void {
  const page = make("div", "page ending");
  page.append(make("h1", "", thanks));
  if (code) {
    page.append(make("p", "", codeLabel), make("output", "code", code));
  }
  into.replaceChildren(page);
}
