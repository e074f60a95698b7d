import type { PageTime } from "~/core/design/page";
import { speed } from "../pace";
import { words } from "../facts";
import { setAll } from "../questions/elements";
import { make } from "./page";

type Told = {
  /** The page's time is up. */
  onUp: () => void;
  /** Whether participants still have to wait before they can go on. */
  onLeast: (isWaiting: boolean) => void;
};

/** A time as `2:05`. */
const inMinutes = (seconds: number): string => `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;

/** The clock of one page: when one can go on, how much time is left, and when it is up. Moments are milliseconds from the session's start. */
export class PageTimer {
  readonly elements: HTMLElement[] = [];
  readonly #left = setAll(make("p", "wait time-left"), { role: "timer" });
  readonly #warning = setAll(make("p", "warning"), { role: "alert" });
  readonly #wait = make("p", "wait");
  #timer: ReturnType<typeof setTimeout> | null = null;

  constructor(
    private readonly time: PageTime | undefined,
    private readonly shownAt: number,
    private readonly now: () => number,
    private readonly told: Told,
  ) {
    if (!time) return;
    this.#left.hidden = this.#warning.hidden = this.#wait.hidden = true;
    if (time.most !== undefined) this.elements.push(this.#warning, this.#left);
    if (time.least !== undefined) this.elements.push(this.#wait);
  }

  start(): void {
    if (this.time) this.#look();
  }

  stop(): void {
    if (this.#timer !== null) clearTimeout(this.#timer);
    this.#timer = null;
  }

  #look(): void {
    const { least, most, warns, countdown } = this.time as PageTime;
    const gone = this.now() - this.shownAt;
    const toWait = (least ?? 0) * 1000 - gone;
    this.told.onLeast(toWait > 0);
    this.#wait.hidden = toWait <= 0;
    this.#wait.textContent = words("breakWait", { seconds: Math.ceil(toWait / 1000) });
    if (most !== undefined) {
      const left = most * 1000 - gone;
      const seconds = Math.max(0, Math.ceil(left / 1000));
      this.#left.hidden = !countdown;
      this.#left.textContent = words("timeLeft", { time: inMinutes(seconds) });
      if (left <= 0) return this.told.onUp();
      const isNear = warns !== undefined && seconds <= warns;
      // Said once, when it comes: the seconds that follow are for the eye.
      if (isNear && this.#warning.hidden) this.#warning.textContent = words("timeEnds", { seconds });
      this.#warning.hidden = !isNear;
    }
    const nextSecond = 1000 - (gone % 1000);
    const untilUp = most === undefined ? Infinity : most * 1000 - gone;
    const isDone = most === undefined && toWait <= 0;
    if (!isDone) this.#timer = setTimeout(() => this.#look(), Math.max(5, Math.min(nextSecond, untilUp) / speed() + 2));
  }
}
