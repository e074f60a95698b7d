import { compilePlanned } from "../core/compile/planned";
import { partOf } from "../core/design/lookup";
import type { StudyDocument } from "../core/design/types";
import type { Cell } from "../core/export/columns";
import { sequenceHeader, sequenceRows } from "../core/export/sequences";

export type Table = { header: string[]; rows: Cell[][] };

/** The planned trials of these participants in the order they are played. */
export const sequenceTable = (document: StudyDocument, participants: readonly number[]): Table => ({
  header: sequenceHeader(document),
  rows: participants.flatMap((participant) => sequenceRows(document, compilePlanned(document, participant))),
});

/** The order of parts of these participants: participant, group, place, part, kind. */
export const partsTable = (document: StudyDocument, participants: readonly number[]): Table => ({
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
