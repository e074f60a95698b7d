import { compilePlanned } from "../core/compile/planned";
import { partOf } from "../core/design/lookup";
import type { StudyDocument } from "../core/design/document";
import { plannedTrials, sequenceColumns } from "../core/export/tables/sequences";
import { shownTable, type ShownTable } from "../core/export/tables/table";

/** The planned trials of these participants in the order they are played. */
export const sequenceTable = (document: StudyDocument, participants: readonly number[]): ShownTable =>
  shownTable(
    sequenceColumns(document),
    participants.flatMap((participant) => plannedTrials(document, compilePlanned(document, participant))),
  );

/** The order of parts of these participants: participant, group, position (the column `place`), part, kind. */
export const partsTable = (document: StudyDocument, participants: readonly number[]): ShownTable => ({
  header: ["participant", "group", "place", "part", "kind"],
  rows: participants.flatMap((participant) => {
    const plan = compilePlanned(document, participant);
    const group = document.groups.find(({ id }) => id === plan.group)?.name ?? plan.group;
    return plan.parts.map((part, index) => [
      participant,
      group,
      index + 1,
      partOf(document, part.part).name,
      part.kind,
    ]);
  }),
});
