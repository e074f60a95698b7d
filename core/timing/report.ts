import { blocksInOrder, itemsIn } from "../design/lookup";
import type { Block } from "../design/block";
import type { Id } from "../values/ref";
import type { StudyDocument } from "../design/document";
import type { Display } from "../records/log";
import type { TrialRecord } from "../records/record";
import { type ItemKind, itemKind } from "../items/registry";

/** Middle and upper ends of a list of numbers; null where there are none. */
export type Spread = { median: number; p95: number; p99: number; largest: number };

/**
 * How one scene of a block was shown, over all its trials. Times in milliseconds, `frames` against what was planned.
 */
export type SceneTiming = {
  part: string;
  scene: string;
  /** Scenes whose time was up; those an answer ended are not looked at. */
  count: number;
  /** Shortest and longest planned time. */
  planned: { from: number; to: number };
  measured: Spread;
  /** Measured minus planned, without its sign, rounding to frames included. */
  deviation: Spread;
  exact: number;
  early: number;
  lateByOne: number;
  lateByMore: number;
  /** Scenes beside `count` on a display without a fixed refresh: their milliseconds are looked at, they have no frames to count. */
  unframed: number;
};
/** How sounds or videos of one item came with their frame, and frames that were dropped while they were on. */
export type MediaTiming = {
  part: string;
  item: string;
  kind: ItemKind;
  count: number;
  offset: Spread | null;
  lateFrames: number;
};
export type SessionTiming = {
  session: Id;
  participant: number;
  browser: string;
  display: Display | null;
  count: number;
  exact: number;
  late: number;
  worst: number;
};
export type TimingReport = {
  scenes: SceneTiming[];
  media: MediaTiming[];
  sessions: SessionTiming[];
  count: number;
  exact: number;
  early: number;
  lateByOne: number;
  lateByMore: number;
  /** Scenes recorded before frames were counted. */
  uncounted: number;
  /**
   * Trials in which the participant looked away or left full screen: what a window behind another shows says nothing
   * about the computer.
   */
  interrupted: number;
  /** Scenes on displays without a fixed refresh, and by how many milliseconds they were off; null where there are none. */
  unframed: { count: number; deviation: Spread } | null;
};

export type SessionFactsForTiming = Pick<SessionTiming, "session" | "participant" | "browser" | "display">;

/** The value below which a share of the sorted numbers lie (nearest rank). */
export const quantile = (sorted: readonly number[] | Float64Array, share: number): number =>
  sorted[Math.min(sorted.length - 1, Math.max(0, Math.ceil(share * sorted.length) - 1))] ?? NaN;

export function spreadOf(values: readonly number[]): Spread | null {
  if (values.length === 0) return null;
  const sorted = Float64Array.from(values).sort();
  return {
    median: quantile(sorted, 0.5),
    p95: quantile(sorted, 0.95),
    p99: quantile(sorted, 0.99),
    largest: sorted[sorted.length - 1] ?? NaN,
  };
}

/** `order`: where the scene stands in the study, part by part. */
type SceneSoFar = Omit<SceneTiming, "measured" | "deviation"> & { order: number; lasted: number[]; off: number[] };
type MediaSoFar = Omit<MediaTiming, "offset"> & { offsets: number[] };

/** Gathers records one after the other, from as many sessions as there are, and gives the report over all of them. */
export class TimingGatherer {
  readonly #scenes = new Map<string, SceneSoFar>();
  readonly #media = new Map<string, MediaSoFar>();
  readonly #sessions = new Map<Id, SessionTiming>();
  #uncounted = 0;
  #interrupted = 0;
  readonly #unframed: number[] = [];

  add(facts: SessionFactsForTiming, document: StudyDocument, record: TrialRecord): void {
    const block = document.parts[record.part];
    if (block?.kind !== "block") return;
    const session = this.#sessions.get(facts.session) ?? { ...facts, count: 0, exact: 0, late: 0, worst: 0 };
    this.#sessions.set(facts.session, session);
    if (record.interrupted) {
      this.#interrupted++;
      return;
    }
    for (const { scene, onset, end, planned, ended } of record.scenes) {
      if (planned === null) continue;
      if (!ended) {
        this.#uncounted++;
        continue;
      }
      if (ended.by !== "time") continue;
      const name = block.scenes.find(({ id }) => id === scene)?.name ?? scene;
      const so = this.#sceneSoFar(block.name, name, () => numberOfScene(document, block, scene));
      so.planned = { from: Math.min(so.planned.from, planned), to: Math.max(so.planned.to, planned) };
      so.lasted.push(end - onset);
      so.off.push(Math.abs(end - onset - planned));
      if (ended.planned === null) {
        so.unframed++;
        this.#unframed.push(Math.abs(end - onset - planned));
        continue;
      }
      const off = ended.frames - ended.planned;
      so.count++;
      if (off === 0) so.exact++;
      else if (off < 0) so.early++;
      else if (off === 1) so.lateByOne++;
      else so.lateByMore++;
      session.count++;
      if (off === 0) session.exact++;
      if (off > 0) session.late++;
      session.worst = Math.max(session.worst, Math.abs(off));
    }
    for (const { item, what, offset, lateFrames } of record.observed) {
      if (offset === undefined && lateFrames === undefined) continue;
      const found = itemsIn(block).find(({ id }) => id === item);
      const { timedBy } = found ? itemKind(found.kind) : {};
      if (!found || timedBy === undefined) continue;
      const so = this.#mediaSoFar(block.name, found.name, found.kind);
      if (what === timedBy) so.count++;
      if (offset !== undefined) so.offsets.push(offset);
      so.lateFrames += lateFrames ?? 0;
    }
  }

  report(): TimingReport {
    const inOrder = [...this.#scenes.values()].sort((a, b) => a.order - b.order);
    const scenes = inOrder.map(({ lasted, off, order: _, ...rest }): SceneTiming => {
      const none = { median: NaN, p95: NaN, p99: NaN, largest: NaN };
      return { ...rest, measured: spreadOf(lasted) ?? none, deviation: spreadOf(off) ?? none };
    });
    const unframed = spreadOf(this.#unframed);
    const sum = (of: (each: SceneTiming) => number) => scenes.reduce((total, each) => total + of(each), 0);
    return {
      scenes,
      media: [...this.#media.values()].map(({ offsets, ...rest }) => ({ ...rest, offset: spreadOf(offsets) })),
      sessions: [...this.#sessions.values()].sort((a, b) => a.participant - b.participant),
      count: sum(({ count }) => count),
      exact: sum(({ exact }) => exact),
      early: sum(({ early }) => early),
      lateByOne: sum(({ lateByOne }) => lateByOne),
      lateByMore: sum(({ lateByMore }) => lateByMore),
      uncounted: this.#uncounted,
      interrupted: this.#interrupted,
      unframed: unframed && { count: this.#unframed.length, deviation: unframed },
    };
  }

  #sceneSoFar(part: string, scene: string, order: () => number): SceneSoFar {
    const key = `${part}\u001f${scene}`;
    const known = this.#scenes.get(key);
    if (known) return known;
    const made: SceneSoFar = {
      part,
      scene,
      order: order(),
      count: 0,
      planned: { from: Infinity, to: -Infinity },
      lasted: [],
      off: [],
      exact: 0,
      early: 0,
      lateByOne: 0,
      lateByMore: 0,
      unframed: 0,
    };
    this.#scenes.set(key, made);
    return made;
  }

  #mediaSoFar(part: string, item: string, kind: MediaTiming["kind"]): MediaSoFar {
    const key = `${part}\u001f${item}`;
    const known = this.#media.get(key);
    if (known) return known;
    const made: MediaSoFar = { part, item, kind, count: 0, offsets: [], lateFrames: 0 };
    this.#media.set(key, made);
    return made;
  }
}

const numberOfScene = (document: StudyDocument, block: Block, scene: Id): number =>
  blocksInOrder(document).findIndex(({ id }) => id === block.id) * 1000 +
  block.scenes.findIndex(({ id }) => id === scene);
