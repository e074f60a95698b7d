import { atClock, dataColumn, wallClock, type DataColumn } from "../../values/data-column";
import { countsColumn, participantColumn, pilotColumn, stateColumn, type Standing } from "./standing";

/**
 * Why a record was kept aside: another stands under its number, one before it is missing, it cannot follow by the plan, or a data
 * file of another installation has it otherwise (`elsewhere`).
 */
export type WhyAside = "taken" | "early" | "unplanned" | "elsewhere";

/** A record that was not stored in place, beside the one that stands under its number, if one does; in full, as JSON. */
export type KeptAside = Standing & {
  session: string;
  participant: number;
  pilot: boolean;
  number: number;
  why: WhyAside;
  storedAt: string | null;
  receivedAt: string;
  stored: string | null;
  aside: string;
};

export const keptAsideColumns: readonly DataColumn<KeptAside>[] = [
  dataColumn("session", "text", "Identifier of the sitting", ({ session }) => session),
  participantColumn((source) => source),
  dataColumn("record", "whole number", "Number of the record in the session", ({ number }) => number),
  dataColumn(
    "why",
    "text",
    "Why it was kept aside: taken (another record stands under its number), early (a record before it is missing), unplanned (it cannot follow in this session by the study’s plan), elsewhere (a data file from another installation has it otherwise)",
    ({ why }) => why,
  ),
  dataColumn(
    "stored_at",
    "text",
    "When the record that stands under this number was stored",
    ({ storedAt }) => (storedAt === null ? null : atClock(storedAt)),
    wallClock,
  ),
  dataColumn(
    "received_at",
    "text",
    "When the record kept aside came",
    ({ receivedAt }) => atClock(receivedAt),
    wallClock,
  ),
  dataColumn("stored", "text", "The record that stands under this number, as JSON", ({ stored }) => stored),
  dataColumn("kept_aside", "text", "The record kept aside, as JSON", ({ aside }) => aside),
  pilotColumn((source) => source),
  countsColumn((source) => source),
  stateColumn("session_state", (source) => source),
];
