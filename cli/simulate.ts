import { plannedPlace } from "../core/allocate/allocate";
import type { StudyDocument } from "../core/design/types";
import { trialColumns, trialRow, type Cell } from "../core/export/columns";
import { plainModel, simulateSession } from "../core/simulate/participant";

/** Simulated records in the columns of the export. */
export function simulatedTable(document: StudyDocument, participants: number[]): { header: string[]; rows: Cell[][] } {
  const columns = trialColumns([document]);
  const rows = participants.flatMap((participant) => {
    const place = plannedPlace(document, participant);
    const facts = {
      study: "simulated",
      release: 0,
      wave: "",
      session: `simulated-${participant}`,
      participant,
      group: place.group,
      pilot: false,
    };
    return simulateSession(document, participant, place, document.settings.seed, plainModel).records.flatMap(
      (record) => (record.kind === "trial" ? [trialRow(columns, document, facts, record)] : []),
    );
  });
  return { header: columns.map(({ name }) => name), rows };
}
