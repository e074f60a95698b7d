import { enterBreak, inBreak } from "./phases/break";
import { brokenOff, enterTrial, foreseenIn, inTrial } from "./phases/trial";
import type { Trials } from "./state";

/** How trials and the breaks between them are played. */
export const trials: Trials = { enterTrial, inTrial, brokenOff, foreseenIn, enterBreak, inBreak };
