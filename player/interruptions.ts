import { facts } from "./facts";
import { showLeaving, showPause, type Why } from "./pages/pause";
import type { SessionLog } from "./session-log";

/** What the participant is in: a block's trials, where looking away matters, or a page. */
type Where = "block" | "page";

const isFull = () => document.fullscreenElement !== null;

/** Asks for the full screen where the study wants it; a press on this page has to come before. */
export async function fillScreen(): Promise<void> {
  if (facts().fullScreen && !isFull() && document.fullscreenEnabled)
    await document.documentElement.requestFullscreen({ navigationUI: "hide" }).catch(() => undefined);
}

/**
 * Watches what happens to the window while a session runs, logs it, and remembers what interrupts a block: the focus or
 * the full screen is lost, or the participant presses Escape. Whoever plays asks between trials, or looks at `why` in
 * every frame.
 */
export class Interruptions {
  /** What has interrupted the block; null while nothing has. */
  why: Why | null = null;
  /** Escape is an answer in the present block, so it does not pause. */
  escapeAnswers = false;
  #where: Where = "page";
  #wasFull = false;
  #onAsked: (() => void) | null = null;

  constructor(
    private readonly log: SessionLog,
    private readonly over: HTMLElement,
    private readonly under: () => HTMLElement[],
  ) {
    this.#listen();
  }

  enter(where: Where): void {
    this.#where = where;
    this.#wasFull = isFull();
    this.why = null;
  }

  /** Settled when Escape is pressed on a page. */
  asked(): Promise<void> {
    return new Promise((resolve) => (this.#onAsked = resolve));
  }

  /** The calm page over whatever was on; settled with whether the participant continues or leaves for good. */
  async settle(isPlayedAgain: boolean): Promise<"go-on" | "leave"> {
    const why = this.why ?? "asked";
    const covered = this.under();
    const focused = document.activeElement;
    for (const each of covered) each.inert = true;
    this.over.hidden = false;
    this.log.add("paused", why);
    let choice = await showPause(this.over, why, isPlayedAgain);
    if (choice === "leave") choice = await showLeaving(this.over);
    if (choice === "go-on") await fillScreen();
    this.over.hidden = true;
    this.over.replaceChildren();
    for (const each of covered) each.inert = false;
    // Whoever was typing goes on where they were.
    if (focused instanceof HTMLElement) focused.focus({ preventScroll: true });
    this.log.add("went-on");
    this.why = null;
    this.#wasFull = isFull();
    return choice;
  }

  #interrupt(why: Why) {
    if (!this.over.hidden) return;
    if (this.#where === "block") this.why ??= why;
    else if (why === "asked") {
      this.why = why;
      this.#onAsked?.();
      this.#onAsked = null;
    }
  }

  #listen() {
    const { log } = this;
    addEventListener("blur", () => {
      // A page that is an item of the stage has the focus now: the participant is still here.
      if (document.activeElement?.shadowRoot?.activeElement?.localName === "iframe") return;
      log.add("focus-lost");
      this.#interrupt("focus");
    });
    addEventListener("focus", () => log.add("focus-back"));
    document.addEventListener("visibilitychange", () => {
      const isHidden = document.visibilityState === "hidden";
      log.add(isHidden ? "hidden" : "visible");
      if (isHidden) this.#interrupt("focus");
    });
    document.addEventListener("fullscreenchange", () => {
      log.add(isFull() ? "full-screen-back" : "full-screen-left");
      if (!isFull() && this.#wasFull && facts().fullScreen) this.#interrupt("full-screen");
      this.#wasFull = isFull();
    });
    addEventListener("keydown", (event: KeyboardEvent) => {
      if (event.key !== "Escape" || event.repeat || this.escapeAnswers) return;
      // Within full screen the browser itself leaves it at this key, and that asks.
      if (!isFull()) this.#interrupt("asked");
    });
    addEventListener("resize", () => log.add("resized", `${innerWidth} × ${innerHeight}`));
    addEventListener("online", () => log.add("network-back"));
    addEventListener("offline", () => log.add("network-away"));
    const { orientation } = screen as { orientation?: ScreenOrientation };
    orientation?.addEventListener("change", () => log.add("turned", orientation.type));
    watchPixelRatio(() => log.add("pixel-ratio", devicePixelRatio));
  }
}

/** A query matches one ratio only, so that a new one is asked after each change. */
function watchPixelRatio(changed: () => void) {
  matchMedia(`(resolution: ${devicePixelRatio}dppx)`).addEventListener(
    "change",
    () => {
      changed();
      watchPixelRatio(changed);
    },
    { once: true },
  );
}
