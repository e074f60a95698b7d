import type { LookTarget, TrackerSettings } from "../../core/bridge/messages";
import type { SampleColumns } from "../../core/gaze/packed";

/** An eye tracker that was reached. */
export type Tracker = {
  /** What it calls itself, and how many samples a second it says it gives. */
  name: string;
  rate: number;
  /** Its clock just now, in milliseconds. */
  clock: () => Promise<number>;
  /** It sends samples until `end`. */
  begin: () => void;
  end: () => void;
  /** What there is to look at from now on, where it wants to know. */
  look: (targets: readonly LookTarget[]) => void;
  close: () => Promise<void>;
};

/** What is told of a tracker that is open. */
export type TrackerHearing = {
  /** Samples in their order, at times of the tracker’s own clock. */
  samples: (samples: SampleColumns) => void;
  /** It was lost, and why in words. */
  lost: (why: string) => void;
};

/**
 * How the program of a tracker is spoken to: one file for each, which `suite.ts` tries. `open` rejects with `NoLine`, whose
 * message says what is wrong.
 */
export type TrackerAdapter = {
  open: (settings: Pick<TrackerSettings, "host" | "port">, hearing: TrackerHearing) => Promise<Tracker>;
};
