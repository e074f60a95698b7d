import { partsFor, type Orders } from "../../order/parts";
import type { StudyDocument } from "../../design/document";
import type { Display } from "../../records/log";
import type { SessionRecord } from "../../records/record";
import { variableColumns } from "./variables";
import { clockStepMs } from "../../timing/verdict";
import { partLabel } from "../../design/part-labels";
import type { Outcomes } from "../../scores/score";
import { askedColumns } from "./asked";
import { countsColumn, participantColumn, pilotColumn, stateColumn, type Standing, sittingColumn } from "./standing";
import { leftOutOfSessions } from "../../exclusions/columns";
import { atClock, dataColumn, wallClock, type DataColumn } from "../../values/data-column";
import type { Id } from "../../values/ref";
import { seedOf } from "../../order/seed";

/** One row of the sessions table. */
export type SessionSource = Standing & {
  study: string;
  /** The frozen version it was played on; null where that is gone. */
  release: { number: number; document: StudyDocument } | null;
  /** Name of its wave; empty for rehearsals. */
  wave: string;
  session: string;
  participant: number;
  group: Id;
  orders: Orders;
  trials: number;
  trialsPlanned: number;
  startedAt: string;
  seenAt: string;
  finishedAt: string | null;
  browser: string;
  pilot: boolean;
  sitting: number;
  /** Name of the laboratory's computer on which it was begun; empty for any other. */
  computer: string;
  stratum: string;
  /** Why it was left out, where that was said. */
  because: string | null;
  display: Display | null;
  removedAt: string | null;
  /** How its questions stand. */
  outcomes: Outcomes;
  /** What variables held last. */
  variables: SessionRecord["variables"];
};

const pixels = { unit: "CSS pixels" };

const ownColumns: readonly DataColumn<SessionSource>[] = [
  dataColumn("study", "text", "Code of the study", ({ study }) => study),
  dataColumn(
    "release",
    "whole number",
    "Number of the frozen version that was played",
    ({ release }) => release?.number ?? 0,
  ),
  dataColumn("wave", "text", "Label of the period of data collection", ({ wave }) => wave),
  dataColumn("session", "text", "Identifier of the sitting", ({ session }) => session),
  participantColumn((source) => source),
  dataColumn(
    "group_name",
    "text",
    "Group the participant was in",
    ({ release, group }) => release?.document.groups.find(({ id }) => id === group)?.name ?? group,
  ),
  dataColumn("seed", "text", "What everything drawn in the session follows from, with the number", (of) =>
    of.release ? seedOf(of.release.document, of.sitting) : "",
  ),
  stateColumn("state", (source) => source),
  dataColumn("trials", "whole number", "Trials that were played", ({ trials }) => trials),
  dataColumn("trials_planned", "whole number", "Trials there are to play", ({ trialsPlanned }) => trialsPlanned),
  dataColumn("started_at", "text", "When the session began", ({ startedAt }) => atClock(startedAt), wallClock),
  dataColumn("last_seen_at", "text", "When something last came from it", ({ seenAt }) => atClock(seenAt), wallClock),
  dataColumn(
    "finished_at",
    "text",
    "When it ended; empty while it has not",
    ({ finishedAt }) => atClock(finishedAt),
    wallClock,
  ),
  dataColumn("browser", "text", "What the browser says it is", ({ browser }) => browser),
  pilotColumn((source) => source),
  sittingColumn((source) => source),
  dataColumn(
    "laboratory_computer",
    "text",
    "Name of the laboratory's computer on which it was begun; empty for any other",
    ({ computer }) => computer,
  ),
  dataColumn("stratum", "text", "What was known of the participant beforehand", ({ stratum }) => stratum),
  dataColumn("order_of_parts", "text", "The parts in the order the participant had them", orderOfParts),
  countsColumn((source) => source),
  dataColumn(
    "left_out_because",
    "text",
    "Why the team marked it “does not count”; empty while it counts, or where no reason was given",
    ({ because }) => because,
  ),
  dataColumn(
    "refresh_hz",
    "number",
    "Measured refresh of the display",
    ({ display }) => display && Math.round(100_000 / display.refreshMs) / 100,
    { unit: "hertz" },
  ),
  dataColumn(
    "refresh_kind",
    "text",
    "Whether the refresh is fixed, or follows what is drawn",
    ({ display }) => display && (display.variable ? "variable" : "fixed"),
    { values: "fixed, variable" },
  ),
  dataColumn("window_width_px", "number", "Width of the window", ({ display }) => display && display.width, pixels),
  dataColumn("window_height_px", "number", "Height of the window", ({ display }) => display && display.height, pixels),
  dataColumn(
    "pixel_ratio",
    "number",
    "Pixels of the display in one CSS pixel",
    ({ display }) => display && display.pixelRatio,
  ),
  dataColumn(
    "clock_step_ms",
    "number",
    "How finely the browser stamped inputs and frames",
    ({ display }) => display && clockStepMs(display),
    { unit: "milliseconds" },
  ),
  dataColumn(
    "sound_latency_ms",
    "number",
    "Latency of sound as the browser reported it; empty without sound",
    ({ display }) => display?.soundLatencyMs ?? null,
    { unit: "milliseconds" },
  ),
  dataColumn(
    "records_removed_at",
    "text",
    "When the records were removed because the participant left and the study says so; empty otherwise",
    ({ removedAt }) => atClock(removedAt),
    wallClock,
  ),
];

/** The columns of the sessions table: what is known of every session, then its questions and scores. */
export function sessionColumns(documents: readonly StudyDocument[]): DataColumn<SessionSource>[] {
  const asked = askedColumns(documents, sessionColumnNames());
  const taken = [...sessionColumnNames(), ...asked.map(({ name }) => name)];
  const variables = variableColumns<SessionSource>(documents, taken, {
    document: ({ release }) => release?.document ?? null,
    held: (source) => source.variables,
    when: "as the session ended, or at its last record",
  });
  return [
    ...ownColumns,
    ...variables,
    ...asked.map((column): DataColumn<SessionSource> => ({
      ...column,
      read: ({ release, outcomes }) => column.read({ document: release?.document ?? null, outcomes }),
    })),
    ...leftOutOfSessions,
  ];
}

/** Names of the sessions table that no question or score should have. */
export const sessionColumnNames = (): string[] => [...ownColumns, ...leftOutOfSessions].map(({ name }) => name);

/** The names of a session's parts in the order it had them. */
function orderOfParts({ release, group, orders, participant, sitting }: SessionSource): string {
  if (!release) return "";
  const { document } = release;
  return partsFor(document, { group, orders, participant, sitting })
    .map(({ part }) => partLabel(document, part))
    .join(" > ");
}
