import { hasPlace } from "../../order/place";
import { dataColumn, yesOrNo, type DataColumn } from "../../values/data-column";

/** `withdrawn`: the participant left for good; `screened-out` and `declined`: a page ended the session. */
export type SessionState = "active" | "finished" | "withdrawn" | "screened-out" | "declined";

/** Whether a session is taken into account: every table tells it, since rows stay whatever is decided. */
export type Standing = {
  state: SessionState;
  /** The team marked the session “does not count”. */
  isExcluded: boolean;
};

/** Whether a session counts: nobody marked it, and nobody left or was turned away in it. */
export const counts = ({ state, isExcluded }: Standing): boolean =>
  !isExcluded && (state === "active" || state === "finished");

export const stateInWords = ({ state }: Standing): string => (state === "active" ? "not finished" : state);

export const countsColumn = <Source>(of: (source: Source) => Standing): DataColumn<Source> =>
  dataColumn(
    "counts",
    "yes/no",
    "Whether the session counts: not if the team marked it “does not count”, nor if the participant left the study, was screened out or declined",
    (source) => yesOrNo(counts(of(source))),
    { values: "yes, no" },
  );

export const stateColumn = <Source>(name: string, of: (source: Source) => Standing): DataColumn<Source> =>
  dataColumn(name, "text", "How the session stands", (source) => stateInWords(of(source)), {
    values: "not finished, finished, withdrawn, screened-out, declined",
  });

/** Rehearsals have numbers below 0, so that they are never taken for participants. */
export const participantColumn = <Source>(
  of: (source: Source) => { participant: number; pilot: boolean },
): DataColumn<Source> =>
  dataColumn(
    "participant",
    "whole number",
    "Number of the participant in the study; empty for who left before places were given; below 0 for a rehearsal by the team: −3 was played as participant 3",
    (source) => {
      const { participant, pilot } = of(source);
      if (!hasPlace({ participant })) return null;
      return pilot ? -participant : participant;
    },
  );

export const pilotColumn = <Source>(of: (source: Source) => { pilot: boolean }): DataColumn<Source> =>
  dataColumn("pilot", "yes/no", "Whether it was a rehearsal by the team", (source) => yesOrNo(of(source).pilot), {
    values: "yes, no",
  });

/** Which of the participant's sittings it was. */
export const sittingColumn = <Source>(of: (source: Source) => { sitting: number }): DataColumn<Source> =>
  dataColumn(
    "sitting",
    "whole number",
    "Number of the sitting of this participant, from 1",
    (source) => of(source).sitting,
  );
