import { streamFor, type Stream } from "../random/stream";
import { alongJerkless, normal, saccadeMs } from "./simulate";

/** Something to look at: in degrees from the middle, to the right and upwards, and how likely it is looked at next. */
export type Target = { x: number; y: number; chance: number };

/** What a viewer and the tracker that watches it are like. Lengths in degrees of visual angle. */
export type LiveViewerOptions = {
  seed: string;
  noise: number;
  blinksPerMinute: number;
  /** Share of samples that get lost one by one. */
  lost: number;
  /** By how much the tracker comes to be off in a minute, to the right. */
  driftPerMinute: number;
  badEye: "left" | "right" | null;
  /** The viewer looks away from the single point that is shown as the so many-th; 0: from none. */
  looksAwayAt: number;
  /** Whether what is recorded is bent and shifted, as it is before a calibration. */
  isBent: boolean;
};
export const plainLiveViewer: LiveViewerOptions = {
  ...{ seed: "viewer", noise: 0.06, blinksPerMinute: 10, lost: 0.005, driftPerMinute: 0 },
  ...{ badEye: null, looksAwayAt: 0, isBent: true },
};

/** What is recorded at a moment: null for an eye that is not seen. */
type SeenEye = { x: number; y: number; pupil: number } | null;
export type LiveSample = { left: SeenEye; right: SeenEye; distance: number };

/** So long it takes until something new is looked at; and a fixation, log-normally. */
const [latencyMs, fixationMs, fixationSpread, landing, blinkMs] = [180, 250, 0.35, 0.25, 150];
const away = { x: 9, y: 5 };

/** A viewer who looks at what there is, moment by moment; with the same seed, and the same things at the same times, in the same way. */
export class LiveViewer {
  #chance: Stream;
  #targets: readonly Target[] = [{ x: 0, y: 0, chance: 1 }];
  #target = 0;
  #rest = { x: 0, y: 0 };
  #restUntil: number | null = null;
  #move: { from: number; to: number; end: { x: number; y: number } } | null = null;
  #blinkUntil = -1;
  #singles = 0;
  #last = 0;

  constructor(private readonly options: LiveViewerOptions) {
    this.#chance = streamFor(options.seed, "live");
  }

  /** There is something else to look at from now on. */
  look(targets: readonly Target[], now: number): void {
    const [only] = targets;
    if (!only) return;
    if (targets.length === 1 && ++this.#singles === this.options.looksAwayAt)
      this.#targets = [{ x: only.x > 0 ? only.x - away.x : only.x + away.x, y: only.y + away.y, chance: 1 }];
    else this.#targets = targets;
    this.#target = -1;
    if (this.#restUntil !== null) this.#restUntil = Math.min(this.#restUntil, now + latencyMs);
  }

  /** What is recorded at a time, which is not before that of the last one. */
  sample(now: number): LiveSample {
    this.#go(now);
    const { noise, lost, badEye, blinksPerMinute } = this.options;
    const elapsed = now - this.#last;
    this.#last = now;
    if (this.#blinkUntil < now && this.#chance.unit() < (blinksPerMinute * elapsed) / 60_000)
      this.#blinkUntil = now + blinkMs;
    const at = this.#place(now);
    const eye = (which: "left" | "right"): SeenEye => {
      const isBad = which === badEye;
      const wide = isBad ? noise * 5 : noise;
      // Drawn in any case, so that what is lost shifts nothing else.
      const [offX, offY, luck] = [wide * normal(this.#chance), wide * normal(this.#chance), this.#chance.unit()];
      if (now < this.#blinkUntil || luck < (isBad ? 1 / 3 : lost)) return null;
      const drift = (this.options.driftPerMinute * now) / 60_000;
      const bent = this.#bent({ x: at.x + offX + drift, y: at.y + offY }, which);
      return { ...bent, pupil: 3.5 + 0.3 * Math.sin(now / 2300) + 0.02 * offX };
    };
    return { left: eye("left"), right: eye("right"), distance: 60 + 0.8 * Math.sin(now / 7000) };
  }

  #bent({ x, y }: { x: number; y: number }, which: "left" | "right") {
    if (!this.options.isBent) return { x, y };
    const side = which === "left" ? 1 : -1;
    return { x: 0.94 * x + 1.1 * side + 0.003 * x * x, y: 1.04 * y - 0.7 + 0.002 * x * y * side };
  }

  #place(now: number) {
    const move = this.#move;
    if (!move || now >= move.to) return this.#rest;
    const along = alongJerkless((now - move.from) / (move.to - move.from));
    return {
      x: this.#rest.x + along * (move.end.x - this.#rest.x),
      y: this.#rest.y + along * (move.end.y - this.#rest.y),
    };
  }

  /** Lets rests and movements follow one another until now. */
  #go(now: number): void {
    this.#restUntil ??= now + this.#lasts();
    for (;;) {
      if (this.#move) {
        if (now < this.#move.to) return;
        this.#rest = this.#move.end;
        this.#restUntil = this.#move.to + this.#lasts();
        this.#move = null;
      }
      if (now < this.#restUntil) return;
      const from = this.#restUntil;
      const end = this.#next();
      this.#move = { from, to: from + saccadeMs(Math.hypot(end.x - this.#rest.x, end.y - this.#rest.y)), end };
    }
  }

  #lasts = () => fixationMs * Math.exp(fixationSpread * normal(this.#chance));

  #next(): { x: number; y: number } {
    const total = this.#targets.reduce((sum, { chance }) => sum + chance, 0);
    let next = this.#target;
    // What is looked at is left for something else, where there is something else.
    while (next === this.#target || next < 0) {
      let left = this.#chance.unit() * total;
      next = Math.max(
        0,
        this.#targets.findIndex(({ chance }) => (left -= chance) < 0),
      );
      if (this.#targets.length === 1) break;
    }
    this.#target = next;
    const aim = this.#targets[next] ?? { x: 0, y: 0 };
    return { x: aim.x + landing * normal(this.#chance), y: aim.y + landing * normal(this.#chance) };
  }
}
