import type { Happening, Trigger, TriggerKind } from "./trigger";
import type { ActionKind } from "./action";

/** Where rules stand: with the whole study, a page, the trials of a block, one scene. */
export const levels = ["study", "page", "block", "scene"] as const;
export type Level = (typeof levels)[number];

type Known = {
  /** What is not reacted to any more, once this is over, by what was to come later. */
  lasts: "trial" | "part" | "session";
  /** The levels at which it can be chosen. */
  at: readonly Level[];
};
const inTrials = ["study", "block", "scene"] as const;
const known: Record<TriggerKind, Known> = {
  "session-begins": { lasts: "session", at: ["study"] },
  "session-ends": { lasts: "session", at: ["study"] },
  "part-begins": { lasts: "part", at: ["study", "page", "block"] },
  "part-ends": { lasts: "part", at: ["study", "page", "block"] },
  "trial-begins": { lasts: "trial", at: ["study", "block"] },
  "trial-ends": { lasts: "trial", at: ["study", "block"] },
  "scene-begins": { lasts: "trial", at: ["block", "scene"] },
  "scene-ends": { lasts: "trial", at: ["block", "scene"] },
  answer: { lasts: "trial", at: inTrials },
  key: { lasts: "trial", at: inTrials },
  pointer: { lasts: "trial", at: ["block", "scene"] },
  scroll: { lasts: "trial", at: inTrials },
  media: { lasts: "trial", at: ["block", "scene"] },
  message: { lasts: "trial", at: ["block", "scene"] },
  question: { lasts: "part", at: ["study", "page"] },
  variable: { lasts: "session", at: levels },
  window: { lasts: "session", at: levels },
  leave: { lasts: "session", at: ["study", "page", "block"] },
};
export const triggerKind = (kind: TriggerKind): Known => known[kind];

/** Whether what happened sets a trigger off. */
export function isSetOff(trigger: Trigger, happened: Happening): boolean {
  if (trigger.on !== happened.on) return false;
  for (const [field, wanted] of Object.entries(trigger) as [string, unknown][]) {
    if (field === "afterMs" || wanted === undefined) continue;
    const is = (happened as Record<string, unknown>)[field];
    if (field === "heldMs" ? Number(is ?? 0) < Number(wanted) : is !== wanted) return false;
  }
  return true;
}

type KnownAction = {
  /** The levels at which it can be chosen. */
  at: readonly Level[];
  /** It moves the session somewhere else. */
  moves?: true;
};
const withinBlock = ["block", "scene"] as const;
const knownActions: Record<ActionKind, KnownAction> = {
  set: { at: levels },
  add: { at: levels },
  append: { at: levels },
  draw: { at: levels },
  item: { at: withinBlock },
  sound: { at: withinBlock },
  media: { at: withinBlock },
  "next-scene": { at: withinBlock, moves: true },
  "go-to-scene": { at: withinBlock, moves: true },
  "end-trial": { at: withinBlock, moves: true },
  "repeat-trial": { at: withinBlock },
  "end-block": { at: withinBlock, moves: true },
  "begin-block-again": { at: withinBlock, moves: true },
  "go-to-part": { at: levels, moves: true },
  "end-session": { at: levels, moves: true },
  page: { at: levels, moves: true },
  event: { at: levels },
  marker: { at: levels },
  script: { at: levels },
  ask: { at: levels },
};
export const actionKind = (kind: ActionKind): KnownAction => knownActions[kind];
/** The actions by which trials or a block come more often, or less, than planned. */
export const repeatingActions: readonly ActionKind[] = ["repeat-trial", "begin-block-again", "end-block"];
/** The actions that move the session somewhere else. */
export const movingActions = (Object.keys(knownActions) as ActionKind[]).filter((kind) => knownActions[kind].moves);
