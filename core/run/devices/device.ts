import type { AnswerDevice, Block } from "../../design/types";
import type { Input } from "../records";
import type { Context } from "../resolve";

/** What the machine knows of a way to answer. */
export type DeviceRules<D extends AnswerDevice> = {
  /** The answer this input stands for, or null when the device does not take it. */
  accepts: (device: D, input: Input, context: Context) => string | null;
  /** Every input the device takes in this trial, or null where they cannot be listed (a typed text). */
  possible: (device: D, context: Context, block: Block) => Input[] | null;
};

/** Keys are compared without case, since caps lock is not an answer. */
export const sameKey = (a: string, b: string): boolean => a.toLowerCase() === b.toLowerCase();
