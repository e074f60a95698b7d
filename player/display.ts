import { isVariable } from "~/core/timing/frames";

/** Frames looked at before the first trial, and at least before the refresh is said to have changed. */
const [measured, watched] = [48, 60];

const middle = (sorted: Float64Array): number => sorted[Math.floor(sorted.length / 2)] ?? 0;

/**
 * The display's refresh: measured before the first trial, watched in every frame after. The intervals lie in one array
 * that is made once, so that watching leaves no garbage.
 */
export class RefreshWatch {
  /** The present length of a frame, in milliseconds. */
  frameMs = 1000 / 60;
  /** Standard deviation of the frames it was measured from, dropped ones left out. */
  spread = 0;
  /** The display follows the drawing instead of a clock of its own: frames are of no fixed length, and none are planned. */
  variable = false;
  readonly #intervals = new Float64Array(240);
  #count = 0;
  #last = 0;
  #suspected = false;

  /** Measures the refresh from frames in which nothing else is done. */
  measure(frames = measured): Promise<void> {
    return new Promise((resolve) => {
      this.pause();
      const frame = (stamp: number) => {
        this.frame(stamp);
        if (this.#count < frames) return void requestAnimationFrame(frame);
        this.#settle();
        resolve();
      };
      requestAnimationFrame(frame);
    });
  }

  /** Called in every frame while a trial runs. */
  frame(stamp: number): void {
    if (this.#last > 0 && stamp > this.#last) {
      this.#intervals[this.#count % this.#intervals.length] = stamp - this.#last;
      this.#count++;
    }
    this.#last = stamp;
  }

  /** What comes next does not follow the frame before: a trial begins. */
  pause(): void {
    this.#last = 0;
  }

  /**
   * Between trials: the new length of a frame where the display's refresh has changed by more than 3 %, or has become
   * variable or fixed; else null.
   */
  changed(): number | null {
    if (this.#count < watched) return null;
    const sorted = this.#sorted();
    const present = middle(sorted);
    const isOther =
      isVariable(sorted, present) !== this.variable ||
      // Where no frame is like another, the middle one is another each time.
      (!this.variable && Math.abs(present - this.frameMs) > this.frameMs * 0.03);
    if (isOther && this.#suspected) {
      this.#settle();
      return this.frameMs;
    }
    // Frames of before and after a change lie in one heap: only what comes from now on says what the display does.
    if (isOther || this.#suspected || this.#count >= this.#intervals.length) this.#count = 0;
    this.#suspected = isOther;
    return null;
  }

  #sorted = () => this.#intervals.slice(0, Math.min(this.#count, this.#intervals.length)).sort();

  #settle() {
    const sorted = this.#sorted();
    this.frameMs = middle(sorted) || this.frameMs;
    this.variable = isVariable(sorted, this.frameMs);
    const whole = sorted.filter((each) => Math.abs(each - this.frameMs) < this.frameMs / 2);
    const mean = whole.reduce((sum, each) => sum + each, 0) / Math.max(1, whole.length);
    // The mean of whole frames is closer to the display's own length than any single one.
    if (whole.length > 0) this.frameMs = mean;
    this.spread = Math.sqrt(whole.reduce((sum, each) => sum + (each - mean) ** 2, 0) / Math.max(1, whole.length - 1));
    this.#count = 0;
    this.#suspected = false;
  }
}
