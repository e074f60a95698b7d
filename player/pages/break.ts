import type { Context } from "~/core/values/context";
import type { Breaks } from "~/core/design/block";
import { words } from "../facts";
import { drawFormattedText } from "../stage/formatted-text";
import { make, shareBar, type Share } from "./page";
import { PageTimer } from "./page-timer";

/** A rest within a block; settled when the participant continues. `now` is the session's time in milliseconds. */
export function showBreak(
  into: HTMLElement,
  { body, leastSeconds }: Pick<Breaks, "body" | "leastSeconds">,
  context: Context,
  share: Share | null,
  now: () => number,
): Promise<void> {
  const page = make("div", "page");
  const text = make("div", "body");
  drawFormattedText(text, body, context);
  const row = make("div", "buttons");
  const button = make("button", "", words("goOn"));
  button.type = "button";
  row.append(button);
  const time = leastSeconds > 0 ? { least: leastSeconds, countdown: false } : undefined;
  const timer = new PageTimer(time, now(), now, {
    onUp: () => undefined,
    onLeast: (isWaiting) => {
      button.disabled = isWaiting;
      if (!isWaiting) button.focus({ preventScroll: true });
    },
  });
  page.append(text, ...timer.elements, row);
  into.replaceChildren(page, ...(share ? [shareBar(share)] : []));
  button.focus({ preventScroll: true });
  timer.start();
  return new Promise((resolve) =>
    button.addEventListener(
      "click",
      () => {
        timer.stop();
        resolve();
      },
      { once: true },
    ),
  );
}
