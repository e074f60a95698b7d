import { exampleDevice, type Device } from "./device";
import type { Id, Scalar, Value } from "./ref";
import type { StudyValues } from "./study-values";
import { emptyTally, type Tally } from "./tally";

/** One element of an array where it was drawn, in stage units from the array's centre, y upwards. */
export type ArrayElement = { x: number; y: number; isTarget: boolean };
/** The drawn positions of the elements of arrays in a trial, by item. */
export type DrawnElements = Record<Id, ArrayElement[]>;

/** What rules have changed: by item, by property. */
export type Changes = Readonly<Record<Id, Readonly<Record<string, Scalar | null>>>>;

/** Everything a binding can be looked up in. */
export type Context = {
  study: StudyValues;
  group: Id;
  participant: number;
  /** The row's values, by column id; none outside of a trial. */
  values: Record<Id, Scalar | null>;
  tally: Tally;
  placed: DrawnElements;
  /** Whether it is in a practice block. */
  isPractice: boolean;
  /** What rules have changed of items in this trial. */
  changes: Changes;
  /** What variables hold, where that is not what they start with. */
  variables: Readonly<Record<Id, Value | null>>;
  /** Where the session stands. */
  session: { now: number; part: number; points: number; sitting: number };
  /** On what it began; null where that was not told. */
  device: Device | null;
};

export const atStart: Context["session"] = { now: 0, part: 0, points: 0, sitting: 1 };
const untouched: Context["variables"] = {};
const unchanged: Changes = {};

/** Whose values these are: the study, and the participant in it. */
export type Whose = Pick<Context, "study" | "group" | "participant">;

const noValues: Context["values"] = {};
const nothingPlaced: DrawnElements = {};

/**
 * What bindings see for a participant: in a trial its row's values and drawn positions; and what has happened so far. Where
 * no device is said it is a computer in a laboratory.
 */
export const contextFor = (
  { study, group, participant }: Whose,
  {
    values = noValues,
    placed = nothingPlaced,
    isPractice = false,
    variables = untouched,
    session = atStart,
    changes = unchanged,
    device = exampleDevice,
  }: Partial<Pick<Context, "values" | "placed" | "isPractice" | "variables" | "session" | "changes" | "device">> = {},
  tally: Tally = emptyTally,
): Context => ({ study, group, participant, values, tally, placed, isPractice, variables, session, changes, device });

/** A row of a trial table as the first participant of a group meets it. `number` counts rows from 1. */
export type RowContext = { number: number; row: Id; context: Context };
