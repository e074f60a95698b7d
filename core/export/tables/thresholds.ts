import { adaptiveKind } from "../../adaptive/registry";
import type { Adaptive } from "../../adaptive/specs";
import type { Answered } from "../../adaptive/posterior";
import type { Threshold } from "../../adaptive/kind";
import { cellAsText } from "../../design/cells";
import { movesValues } from "../../run/tally";
import { dataColumn, yesOrNo, type DataColumn } from "../../values/data-column";
import type { Column } from "../../values/table";
import { scoreOf } from "./score";
import { participantColumn, pilotColumn, countsColumn, stateColumn, sittingColumn } from "./standing";
import { valuesOf, type SessionFacts, type TrialSource } from "./trial-source";

/** One trial of a track: its number in the session, what was shown, whether it was right, and whether it moved anything. */
export type TrackTrial = { trial: number; value: number; right: boolean | null; counts: boolean };
/** A value that followed the answers: one column, or one level of another, in one attempt at a block of one session. */
export type Track = {
  facts: SessionFacts;
  block: string;
  attempt: number;
  column: string;
  /** The level it was followed for; empty where there are none. */
  level: string;
  method: string;
  by: Adaptive;
  trials: TrackTrial[];
};

/** The tracks of one session's trials, in the order in which they began. */
export function tracksOf(sources: readonly TrialSource[]): Track[] {
  const tracks = new Map<string, Track>();
  for (const source of sources) {
    const { record, block, facts, document } = source;
    if (!record.settled) continue;
    for (const column of block.table.columns) {
      const value = record.settled[column.id];
      if (!column.follows || value === undefined) continue;
      const { by, each } = column.follows;
      const of: Column | undefined = block.table.columns.find(({ id }) => id === each);
      const level = of ? cellAsText(document, of, valuesOf(source)[of.id] ?? null) : "";
      const attempt = record.attempt ?? 1;
      const key = [facts.session, block.id, attempt, column.id, level].join(" ");
      const known = tracks.get(key) ?? {
        ...{ facts, block: block.name, attempt, column: column.name, level, by, trials: [] },
        method: adaptiveKind(by).word,
      };
      known.trials.push({ trial: record.trial, value, right: scoreOf(source).right, counts: moves(source) });
      tracks.set(key, known);
    }
  }
  return [...tracks.values()];
}

const moves = ({ record, block }: TrialSource): boolean =>
  movesValues(block, record.interrupted !== undefined, (index) => record.answers[index]?.outcome);

const answeredIn = ({ trials }: Pick<Track, "trials">): Answered[] =>
  trials.flatMap(({ value, right, counts }) => (counts && right !== null ? [{ value, right }] : []));

/** The threshold of a track, and what its reversals tell. */
export function foundIn(track: Track): {
  threshold: Threshold | null;
  reversals: number;
  reversalMean: number | null;
  isDone: boolean;
} {
  const answered = answeredIn(track);
  const kind = adaptiveKind(track.by);
  return {
    threshold: kind.threshold(track.by, answered),
    reversals: kind.reversals(track.by, answered).length,
    reversalMean: kind.reversalMean(track.by, answered),
    isDone: kind.isDone(track.by, answered),
  };
}

/** The row of a track with what was found in it. */
export type ThresholdSource = Track & ReturnType<typeof foundIn>;
export const thresholdSource = (track: Track): ThresholdSource => ({ ...track, ...foundIn(track) });

export const thresholdColumns: readonly DataColumn<ThresholdSource>[] = [
  dataColumn("study", "text", "Code of the study", ({ facts }) => facts.study),
  dataColumn("session", "text", "Identifier of the sitting", ({ facts }) => facts.session),
  participantColumn(({ facts }) => facts),
  sittingColumn(({ facts }) => facts),
  dataColumn("block", "text", "Name of the block", ({ block }) => block),
  dataColumn("block_attempt", "whole number", "Which run of the block it was, from 1", ({ attempt }) => attempt),
  dataColumn("column", "text", "Column of the trial table that followed the answers", ({ column }) => column),
  dataColumn("level", "text", "The level it was followed for; empty where there is one for all", ({ level }) => level),
  dataColumn("method", "text", "How the values were chosen", ({ method }) => method, {
    values: "staircase, Bayesian estimation",
  }),
  dataColumn(
    "trials_counted",
    "whole number",
    "Trials that counted; missed and interrupted ones move nothing",
    (source) => answeredIn(source).length,
  ),
  dataColumn(
    "reversals",
    "whole number",
    "How often the direction turned; 0 in Bayesian estimation",
    ({ reversals }) => reversals,
  ),
  dataColumn(
    "reversal_mean",
    "number",
    "Mean of the values at an even number of reversals after steps had shrunk; it has no standard error",
    ({ reversalMean }) => reversalMean,
  ),
  dataColumn(
    "threshold",
    "number",
    "The value at which the share in share_right is right, by a function fitted to all trials that counted",
    ({ threshold }) => threshold?.value ?? null,
  ),
  dataColumn(
    "threshold_error",
    "number",
    "Standard deviation of the threshold’s posterior, in units of the value, or in decimal logarithms where steps are ratios",
    ({ threshold }) => threshold?.error ?? null,
  ),
  dataColumn("threshold_from", "number", "Lower end of its 95 % interval", ({ threshold }) => threshold?.from ?? null),
  dataColumn("threshold_to", "number", "Upper end of its 95 % interval", ({ threshold }) => threshold?.to ?? null),
  dataColumn("share_right", "number", "The share right at the threshold", ({ threshold }) => threshold?.at ?? null),
  dataColumn("is_done", "text", "Whether enough had been asked when the block ended", ({ isDone }) => yesOrNo(isDone), {
    values: "yes, no",
  }),
  pilotColumn(({ facts }) => facts),
  countsColumn(({ facts }) => facts),
  stateColumn("session_state", ({ facts }) => facts),
];
