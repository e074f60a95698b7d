import { ClockTie, ownTime } from "../core/bridge/clock";
import type { DeviceTest, LookTarget, TrackerSettings } from "../core/bridge/messages";
import { joinSamples, packSamples, timedAnew, type SampleColumns } from "../core/gaze/packed";
import { now } from "./clock";
import { KeptOpen } from "./kept-open";
import { saidOf } from "./lines/line";
import type { Tracker } from "./trackers/tracker";
import { openTracker } from "./trackers/registry";

/** Samples are handed on together so often; clocks are compared so often, and so many times at first. */
const [pieceMs, exchangeEveryMs, exchangesFirst] = [50, 1000, 8];
/** A test watches for so long. */
const testMs = 1000;

/** An eye tracker as its samples come in: opened, lost and found again, with its times by the bridge’s clock. */
export class TrackerFeed extends KeptOpen<Tracker> {
  #tie = new ClockTie();
  #coming: SampleColumns[] = [];
  #timers: NodeJS.Timeout[] = [];
  #lastTime = -Infinity;
  /** Takes pieces of packed samples. */
  onPiece: (samples: Uint8Array) => void = () => undefined;

  constructor(
    readonly settings: TrackerSettings,
    onChange: () => void,
  ) {
    super(onChange);
  }

  look(targets: readonly LookTarget[]): void {
    this.there?.look(targets);
  }

  /** Watches for a moment, and says how many samples came and whether eyes were seen. */
  async test(id: string): Promise<DeviceTest> {
    const told = (problem: string | null, rate = 0, seen = 0): DeviceTest => ({
      ...{ id, sent: 0, answered: 0, median: null, worst: null, rate, seen, problem },
    });
    const pieces: SampleColumns[] = [];
    this.#watched = (samples) => pieces.push(samples);
    try {
      await this.open();
      await new Promise((resolve) => setTimeout(resolve, testMs));
    } catch (error) {
      return told(saidOf(error));
    } finally {
      this.#watched = null;
      // A session may have begun meanwhile.
      if (!this.isWanted) await this.close();
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

  protected override async reach(): Promise<Tracker> {
    const tracker = await openTracker(this.settings, {
      samples: (samples) => {
        this.#watched?.(samples);
        this.#coming.push(samples);
      },
      lost: (why) => void this.drop(why),
    });
    this.#tie = new ClockTie();
    try {
      for (let count = 0; count < exchangesFirst; count++) await this.#exchange(tracker);
    } catch (error) {
      await tracker.close();
      throw error;
    }
    return tracker;
  }
  protected override opened(tracker: Tracker): void {
    this.#timers = [
      setInterval(() => this.#hand(), pieceMs),
      setInterval(() => void this.#exchange(tracker).catch(() => undefined), exchangeEveryMs),
    ];
    tracker.begin();
  }
  protected override async letGo(tracker: Tracker | null): Promise<void> {
    tracker?.end();
    for (const timer of this.#timers.splice(0)) clearInterval(timer);
    this.#hand();
    await tracker?.close().catch(() => undefined);
  }

  async #exchange(tracker: Tracker): Promise<void> {
    const sent = now();
    const there = await tracker.clock();
    this.#tie.add({ sent, there, received: now() });
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
}
