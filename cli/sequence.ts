import { compile, type Plan } from "../core/compile/compile";
import { compilePlanned } from "../core/compile/planned";
import { seedOf } from "../core/order/seed";
import type { StudyDocument } from "../core/design/document";
import { partOf } from "../core/design/lookup";
import { partLabel } from "../core/design/part-labels";
import { plannedTrials, sequenceColumns, type PlannedTrial } from "../core/export/tables/sequences";
import { shownTable, type ShownTable } from "../core/export/tables/table";
import { dataColumn } from "../core/values/data-column";
import { DataReader } from "../server/export/reader";
import type { Store } from "../server/database/open";
import type { Study } from "../server/studies";

/** The planned trials of these participants in the order they are played, in a sitting. */
export const sequenceTable = (document: StudyDocument, participants: readonly number[], sitting = 1): ShownTable =>
  shownTable(
    sequenceColumns([document]),
    participants.flatMap((participant) => plannedTrials(document, compilePlanned(document, participant, sitting))),
  );

const partColumns = ["participant", "group_name", "part_place", "part", "kind"];
const partRows = (document: StudyDocument, { participant, group, parts }: Plan) =>
  parts.map(({ part }, index) => [
    participant,
    document.groups.find(({ id }) => id === group)?.name ?? group,
    index + 1,
    partLabel(document, part),
    partOf(document, part).kind,
  ]);

/** The order of parts of these participants: participant, group, position of the part, part, kind. */
export const partsTable = (document: StudyDocument, participants: readonly number[], sitting = 1): ShownTable => ({
  header: partColumns,
  rows: participants.flatMap((participant) => partRows(document, compilePlanned(document, participant, sitting))),
});

/** What each participant of a study was really given, on the release they took part in; rehearsals are left out. */
async function given(store: Store, study: Study) {
  const reader = await DataReader.open(store, study, { pilots: false });
  return {
    documents: reader.documents,
    sessions: reader.sittings.map(({ facts, release: { number, document }, row: { sitting } }) => ({
      session: facts.session,
      release: number,
      document,
      plan: compile(document, facts.participant, seedOf(document, sitting), facts.group, facts.orders),
    })),
  };
}

/** The trials participants were given, in the columns of `sequenceTable`, with the release and the session before them. */
export async function givenSequenceTable(store: Store, study: Study): Promise<ShownTable> {
  const { documents, sessions } = await given(store, study);
  type Given = PlannedTrial & { release: number; session: string };
  return shownTable<Given>(
    [
      dataColumn("release", "whole number", "Number of the frozen version", ({ release }) => release),
      dataColumn("session", "text", "Identifier of the sitting", ({ session }) => session),
      ...sequenceColumns(documents),
    ],
    sessions.flatMap(({ session, release, document, plan }) =>
      plannedTrials(document, plan).map((trial) => ({ ...trial, release, session })),
    ),
  );
}

/** The parts participants were given, in the columns of `partsTable`, with the release and the session before them. */
export async function givenPartsTable(store: Store, study: Study): Promise<ShownTable> {
  const { sessions } = await given(store, study);
  return {
    header: ["release", "session", ...partColumns],
    rows: sessions.flatMap(({ session, release, document, plan }) =>
      partRows(document, plan).map((row) => [release, session, ...row]),
    ),
  };
}
