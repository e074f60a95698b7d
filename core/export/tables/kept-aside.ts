import { dataColumn, type DataColumn } from "../../values/data-column";

/** A record that arrived under a number already taken, beside the one that stands; both in full, as JSON. */
export type KeptAside = {
  session: string;
  participant: number;
  number: number;
  storedAt: string;
  receivedAt: string;
  stored: string;
  aside: string;
};

const wallClock = { unit: "ISO 8601, UTC" };

export const keptAsideColumns: readonly DataColumn<KeptAside>[] = [
  dataColumn("session", "text", "Identifier of the sitting", ({ session }) => session),
  dataColumn("participant", "whole number", "Number of the participant in the study", ({ participant }) => participant),
  dataColumn("record", "whole number", "Number of the record in the session", ({ number }) => number),
  dataColumn("stored_at", "text", "When the record that stands was stored", ({ storedAt }) => storedAt, wallClock),
  dataColumn("received_at", "text", "When the other one came", ({ receivedAt }) => receivedAt, wallClock),
  dataColumn("stored", "text", "The record that stands, as JSON", ({ stored }) => stored),
  dataColumn("kept_aside", "text", "The other one, as JSON", ({ aside }) => aside),
];
