import { atClock, dataColumn, wallClock, type DataColumn } from "../../values/data-column";
import { countsColumn, participantColumn, pilotColumn, stateColumn, type Standing } from "./standing";

/** A record that arrived under a number already taken, beside the one that stands; both in full, as JSON. */
export type KeptAside = Standing & {
  session: string;
  participant: number;
  pilot: boolean;
  number: number;
  storedAt: string;
  receivedAt: string;
  stored: string;
  aside: string;
};

export const keptAsideColumns: readonly DataColumn<KeptAside>[] = [
  dataColumn("session", "text", "Identifier of the sitting", ({ session }) => session),
  participantColumn((source) => source),
  dataColumn("record", "whole number", "Number of the record in the session", ({ number }) => number),
  dataColumn(
    "stored_at",
    "text",
    "When the record that stands was stored",
    ({ storedAt }) => atClock(storedAt),
    wallClock,
  ),
  dataColumn("received_at", "text", "When the other one came", ({ receivedAt }) => atClock(receivedAt), wallClock),
  dataColumn("stored", "text", "The record that stands, as JSON", ({ stored }) => stored),
  dataColumn("kept_aside", "text", "The other one, as JSON", ({ aside }) => aside),
  pilotColumn((source) => source),
  countsColumn((source) => source),
  stateColumn("session_state", (source) => source),
];
