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
  readonly #intervals = new Float64Array(240);
  #count = 0;
  #last = 0;

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

  /** Told in every frame while a trial runs. */
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

  /** Between trials: the new length of a frame where the display's refresh has changed by more than 3 %, else null. */
  changed(): number | null {
    if (this.#count < watched) return null;
    const before = this.frameMs;
    const present = middle(this.#sorted());
    if (Math.abs(present - before) <= before * 0.03) {
      if (this.#count >= this.#intervals.length) this.#count = 0;
      return null;
    }
    this.#settle();
    return this.frameMs;
  }

  #sorted = () => this.#intervals.slice(0, Math.min(this.#count, this.#intervals.length)).sort();

  #settle() {
    const sorted = this.#sorted();
    this.frameMs = middle(sorted) || this.frameMs;
    const whole = sorted.filter((each) => Math.abs(each - this.frameMs) < this.frameMs / 2);
    const mean = whole.reduce((sum, each) => sum + each, 0) / Math.max(1, whole.length);
    // The mean of whole frames is closer to the display's own length than any single one.
    if (whole.length > 0) this.frameMs = mean;
    this.spread = Math.sqrt(whole.reduce((sum, each) => sum + (each - mean) ** 2, 0) / Math.max(1, whole.length - 1));
    this.#count = 0;
  }
}
