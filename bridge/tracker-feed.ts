import { ClockTie, ownTime } from "../core/bridge/clock";
import type { DeviceTest, LookTarget, TrackerSettings } from "../core/bridge/messages";
import { joinSamples, packSamples, timedAnew, type SampleColumns } from "../core/gaze/packed";
import { saidOf } from "./lines/line";
import type { Tracker } from "./trackers/tracker";
import { openTracker } from "./trackers/registry";

/** Samples are handed on together so often; clocks are compared so often, and at first; a tracker that was lost is looked for so often. */
const [pieceMs, exchangeEveryMs, exchangesFirst, againMs] = [50, 1000, 8, 500];
/** A test watches for so long. */
const testMs = 1000;

/** An eye tracker as its samples come in: opened, lost and found again, with its times by the bridge’s clock. */
export class TrackerFeed {
  #tracker: Tracker | null = null;
  #opening: Promise<void> | null = null;
  #tie = new ClockTie();
  #coming: SampleColumns[] = [];
  #timers: NodeJS.Timeout[] = [];
  #again: NodeJS.Timeout | null = null;
  #isWanted = false;
  #lastTime = -Infinity;
  /** Why it cannot be reached just now; null where it can, or was not tried. */
  why: string | null = null;
  /** Takes pieces of packed samples. */
  onPiece: (samples: Uint8Array) => void = () => undefined;

  constructor(
    readonly settings: TrackerSettings,
    private readonly now: () => number,
    private readonly onChange: () => void,
  ) {}

  get state(): "closed" | "ready" | "lost" {
    return this.#tracker ? "ready" : this.why === null ? "closed" : "lost";
  }

  /** Opens it and keeps it open: where it is lost it is looked for until `close`. */
  async keepOpen(): Promise<void> {
    this.#isWanted = true;
    await this.#open().catch(() => this.#lookAgain());
  }

  async close(): Promise<void> {
    this.#isWanted = false;
    if (this.#again) clearTimeout(this.#again);
    this.#again = null;
    await this.#opening?.catch(() => undefined);
    this.#tracker?.end();
    this.#hand();
    await this.#drop(null);
  }

  look(targets: readonly LookTarget[]): void {
    this.#tracker?.look(targets);
  }

  /** Watches for a moment, and says how many samples came and whether eyes were seen. */
  async test(id: string): Promise<DeviceTest> {
    const wasWanted = this.#isWanted;
    const told = (problem: string | null, rate = 0, seen = 0): DeviceTest => ({
      ...{ id, sent: 0, answered: 0, median: null, worst: null, rate, seen, problem },
    });
    const before = this.onPiece;
    const pieces: SampleColumns[] = [];
    this.#watched = (samples) => pieces.push(samples);
    try {
      await this.#open();
      await new Promise((resolve) => setTimeout(resolve, testMs));
    } catch (error) {
      return told(saidOf(error));
    } finally {
      this.#watched = null;
      this.onPiece = before;
      if (!wasWanted) await this.close();
    }
    const { times, leftX, rightX } = joinSamples(pieces);
    const lasted = (times.at(-1) ?? 0) - (times[0] ?? 0);
    if (times.length < 2 || lasted <= 0)
      return told(
        "It is reached, but sends no samples: look whether it is switched on, and whether its program shows the eyes.",
      );
    const seen = leftX.filter((x, at) => !Number.isNaN(x) || !Number.isNaN(rightX[at] ?? NaN)).length / times.length;
    const rate = ((times.length - 1) * 1000) / lasted;
    return told(
      seen === 0 ? "Samples come in, but no eye is seen: look whether somebody sits before it, at its distance." : null,
      rate,
      seen,
    );
  }
  #watched: ((samples: SampleColumns) => void) | null = null;

  async #open(): Promise<void> {
    if (this.#tracker) return;
    this.#opening ??= this.#reach()
      .catch((error: unknown) => {
        this.why = saidOf(error);
        this.onChange();
        throw error;
      })
      .finally(() => (this.#opening = null));
    await this.#opening;
  }

  async #reach(): Promise<void> {
    const tracker = await openTracker(this.settings, {
      samples: (samples) => {
        this.#watched?.(samples);
        this.#coming.push(samples);
      },
      lost: (why) => void this.#drop(why),
    });
    this.#tie = new ClockTie();
    try {
      for (let count = 0; count < exchangesFirst; count++) await this.#exchange(tracker);
    } catch (error) {
      await tracker.close();
      throw error;
    }
    this.#tracker = tracker;
    this.why = null;
    this.#timers = [
      setInterval(() => this.#hand(), pieceMs),
      setInterval(() => void this.#exchange(tracker).catch(() => undefined), exchangeEveryMs),
    ];
    tracker.begin();
    this.onChange();
  }

  async #exchange(tracker: Tracker): Promise<void> {
    const sent = this.now();
    const there = await tracker.clock();
    this.#tie.add({ sent, there, received: this.now() });
  }

  /** Hands on what has come in, at times of the bridge, which never go back. */
  #hand(): void {
    const { relation } = this.#tie;
    if (this.#coming.length === 0 || !relation) return;
    const samples = timedAnew(joinSamples(this.#coming.splice(0)), (time) => {
      this.#lastTime = Math.max(this.#lastTime, ownTime(relation, time).at);
      return this.#lastTime;
    });
    this.onPiece(packSamples(samples));
  }

  #lookAgain(): void {
    if (!this.#isWanted || this.#again) return;
    this.#again = setTimeout(() => {
      this.#again = null;
      this.#open().catch(() => this.#lookAgain());
    }, againMs);
  }

  async #drop(why: string | null): Promise<void> {
    const tracker = this.#tracker;
    this.#hand();
    this.#tracker = null;
    for (const timer of this.#timers.splice(0)) clearInterval(timer);
    this.why = why;
    if (tracker) await tracker.close().catch(() => undefined);
    this.onChange();
    if (why !== null) this.#lookAgain();
  }
}
