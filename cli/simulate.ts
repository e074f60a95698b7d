import { plannedAssignment } from "../core/allocate/allocate";
import type { StudyDocument } from "../core/design/document";
import { shownTable, type ShownTable } from "../core/export/tables/table";
import { trialColumns, trialSource } from "../core/export/tables/trials";
import { plainModel, simulateSession } from "../core/simulate/participant";

/** Simulated records in the columns of the export. */
export function simulatedTable(document: StudyDocument, participants: number[]): ShownTable {
  const trials = participants.flatMap((participant) => {
    const assignment = plannedAssignment(document, participant);
    const facts = {
      study: "simulated",
      release: 0,
      wave: "",
      session: `simulated-${participant}`,
      participant,
      sitting: 1,
      ...assignment,
      pilot: false,
      state: "finished" as const,
      isExcluded: false,
    };
    return simulateSession(document, participant, assignment, document.settings.seed, plainModel).records.flatMap(
      (record) => (record.kind === "trial" ? [trialSource(document, facts, record, 1)] : []),
    );
  });
  return shownTable(trialColumns([document]), trials);
}
