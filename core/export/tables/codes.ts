import { dataColumn, type DataColumn } from "../../values/data-column";
import { participantColumn, sittingColumn } from "./standing";

/** By what somebody could be found who took part: kept apart from what they answered. */
export type CodeSource = {
  session: string;
  participant: number;
  sitting: number;
  pilot: boolean;
  /** The name they came with or typed; null without one. */
  participantCode: string | null;
  /** What they were given at the end; empty where the session has not finished. */
  completionCode: string;
  /** What the address of their link said, as JSON; empty where that is not kept. */
  cameWith: string;
};

export const codeColumns: readonly DataColumn<CodeSource>[] = [
  dataColumn("session", "text", "Identifier of the sitting, as in the other tables", ({ session }) => session),
  participantColumn((source) => source),
  sittingColumn((source) => source),
  dataColumn(
    "participant_code",
    "text",
    "The name the participant came with or typed; empty without one",
    ({ participantCode }) => participantCode,
  ),
  dataColumn(
    "completion_code",
    "text",
    "What the participant was given at the end; empty before",
    ({ completionCode }) => completionCode,
  ),
  dataColumn(
    "came_with",
    "text",
    "What the address of their link said besides, as JSON; empty where nothing of it is kept",
    ({ cameWith }) => cameWith,
  ),
];
