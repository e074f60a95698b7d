import { plannedGroup } from "../core/allocate/groups";
import type { StudyDocument } from "../core/design/types";
import { trialColumns, trialRow, type Cell } from "../core/export/columns";
import { plainModel, simulateSession } from "../core/simulate/participant";

/** Simulated records in the columns of the export. */
export function simulatedTable(
  document: StudyDocument,
  participants: number[],
  seed: string,
): { header: string[]; rows: Cell[][] } {
  const columns = trialColumns([document]);
  const rows = participants.flatMap((participant) => {
    const group = plannedGroup(document, participant, seed);
    const facts = {
      study: "simulated",
      release: 0,
      wave: "",
      session: `simulated-${participant}`,
      participant,
      group,
      pilot: false,
    };
    return simulateSession(document, participant, group, seed, plainModel).records.flatMap((record) =>
      record.kind === "trial" ? [trialRow(columns, document, facts, record)] : [],
    );
  });
  return { header: columns.map(({ name }) => name), rows };
}
