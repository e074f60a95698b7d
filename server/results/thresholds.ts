import { thresholdSource, type ThresholdSource, type TrackTrial } from "../../core/export/tables/thresholds";
import type { Threshold } from "../../core/adaptive/kind";
import { described, type Described } from "../../core/stats/describe";
import type { DataReader } from "../export/reader";
import type { Result } from "./result";

/** One value that followed the answers in one session, as it is shown. */
export type FoundThreshold = {
  participant: number;
  block: string;
  attempt: number;
  column: string;
  level: string;
  method: string;
  scale: "linear" | "logarithmic";
  threshold: Threshold | null;
  reversals: number;
  reversalMean: number | null;
  isDone: boolean;
  trials: TrackTrial[];
};
export type ThresholdsQuestion = { participant: number | null };
export type ThresholdsAnswer = {
  /** The first of them, without their trials. */
  all: Omit<FoundThreshold, "trials">[];
  /** How many there are. */
  found: number;
  /** How thresholds of one column and level are distributed over sessions. */
  summary: { column: string; level: string; numbers: Described | null }[];
  /** How the values of one participant went. */
  chosen: FoundThreshold[];
};

const mostListed = 1000;

const shown = ({ facts, by, ...track }: ThresholdSource): FoundThreshold => ({
  participant: facts.participant,
  block: track.block,
  attempt: track.attempt,
  column: track.column,
  level: track.level,
  method: track.method,
  scale: by.scale,
  threshold: track.threshold,
  reversals: track.reversals,
  reversalMean: track.reversalMean,
  isDone: track.isDone,
  trials: track.trials,
});

/** The thresholds of a reader's sessions. */
export async function thresholdsOf(reader: DataReader): Promise<FoundThreshold[]> {
  const found: FoundThreshold[] = [];
  for await (const tracks of reader.tracks()) found.push(...tracks.map((track) => shown(thresholdSource(track))));
  return found;
}

/** The thresholds of values that followed the answers, and how those of one participant went. */
export const thresholds: Result<ThresholdsQuestion, ThresholdsAnswer> = {
  ask: (query) => {
    const participant = Number(query.get("participant"));
    return { participant: Number.isInteger(participant) && participant > 0 ? participant : null };
  },
  answer: async ({ reader }, { participant }) => {
    const all: FoundThreshold[] = [];
    for await (const tracks of reader.tracks()) {
      const found = tracks.map((track) => shown(thresholdSource(track)));
      const first = all[0]?.participant ?? found[0]?.participant;
      for (const each of found) {
        const isChosen = each.participant === (participant ?? first);
        all.push(isChosen ? each : { ...each, trials: [] });
      }
    }
    const keys = [...new Set(all.map(({ column, level }) => JSON.stringify([column, level])))];
    return {
      all: all.slice(0, mostListed).map(({ trials: _, ...each }) => each),
      found: all.length,
      summary: keys.map((key) => {
        const [column, level] = JSON.parse(key) as [string, string];
        const of = all.filter((each) => each.column === column && each.level === level);
        return { column, level, numbers: described(of.flatMap(({ threshold }) => threshold?.value ?? [])) };
      }),
      chosen: all.filter(({ trials }) => trials.length > 0),
    };
  },
};
