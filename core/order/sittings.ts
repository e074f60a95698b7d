import { dayIn } from "../collect/moment";
import type { StudyDocument } from "../design/document";
import { partNodes } from "../design/lookup";
import type { Id } from "../values/ref";
import { isInSitting } from "./parts";
import { seedOf } from "./seed";
import { hasSittings, sittingNumbered, type Sitting } from "../design/sittings";

/** How many sittings a participant has in a study: one where it says nothing of them. */
export const sittingCount = ({ sittings }: Sittings): number => Math.max(1, sittings.length);

/** The number of the first sitting that has a part. */
export function firstSittingWith(document: StudyDocument, part: Id): number {
  const node = partNodes(document.runningOrder).find((each) => each.part === part);
  const at = document.sittings.findIndex((sitting) => !node || isInSitting(node, sitting));
  return Math.max(1, at + 1);
}

/** The seed a part is drawn by in the first sitting that has it. */
export const seedWith = (document: StudyDocument, part: Id): string =>
  seedOf(document, firstSittingWith(document, part));

/** The sitting of a participant that was begun last: its number, how it stands, and when it ended, in ms since 1970. */
export type LastSitting = { sitting: number; isOver: boolean; isFinished: boolean; endedAt: number };

/** The days a sitting is due on, as `2026-12-04`, both included; without an end where it is due at any time. */
export type Due = { from: string; until: string | null; mayBeLate: boolean };

/** So many days after a day. */
function daysAfter(day: string, days: number): string {
  return new Date(Date.parse(`${day}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10);
}

/** The days a sitting is due on, counted from the day in a time zone on which the one before ended. */
export function dueAfter({ due }: Sitting, endedAt: number, zone: string): Due {
  const day = dayIn(zone, endedAt);
  return {
    from: daysAfter(day, due?.from ?? 0),
    until: due ? daysAfter(day, due.until) : null,
    mayBeLate: due?.late !== "may-not",
  };
}

/** Why somebody cannot begin another sitting: the last is not over, all are done, or it is not the time. */
export type WhyNoSitting = "unfinished" | "all-done" | "early" | "over";
type Sittings = { sittings: readonly Sitting[] };
/** A moment, in ms since 1970, and the time zone in which its day is told. */
export type Now = { now: number; zone: string };

/**
 * Whether somebody who was here before can begin their next sitting now, in a study that says which sittings it has:
 * its number, or why not and when it is due.
 */
export function nextSitting(
  document: Sittings,
  last: LastSitting,
  { now, zone }: Now,
): { sitting: number } | { why: WhyNoSitting; due: Due | null } {
  if (!hasSittings(document)) return { sitting: last.sitting + 1 };
  if (!last.isOver) return { why: "unfinished", due: null };
  const next = sittingNumbered(document, last.sitting + 1);
  // Whoever was screened out, declined or left comes to no further one.
  if (!next || !last.isFinished) return { why: "all-done", due: null };
  const due = dueAfter(next, last.endedAt, zone);
  const today = dayIn(zone, now);
  if (today < due.from) return { why: "early", due };
  if (due.until !== null && today > due.until && !due.mayBeLate) return { why: "over", due };
  return { sitting: last.sitting + 1 };
}

/** How somebody stands among the sittings of a study. */
export type SittingState = "under-way" | "waiting" | "due" | "overdue" | "missed" | "done";
/** Those who need somebody come first. */
export const sittingStates: readonly SittingState[] = ["overdue", "due", "waiting", "under-way", "missed", "done"];

const states: Record<WhyNoSitting, SittingState> = {
  unfinished: "under-way",
  "all-done": "done",
  early: "waiting",
  over: "missed",
};

/** How somebody stands, and which sitting is next with its days; null where none is. */
export function sittingState(
  document: Sittings,
  last: LastSitting,
  at: Now,
): { state: SittingState; next: Sitting | null; due: Due | null } {
  const found = nextSitting(document, last, at);
  const following = sittingNumbered(document, last.sitting + 1) ?? null;
  if ("why" in found) return { state: states[found.why], next: found.due && following, due: found.due };
  const due = following && dueAfter(following, last.endedAt, at.zone);
  const isLate = due?.until != null && dayIn(at.zone, at.now) > due.until;
  return { state: isLate ? "overdue" : "due", next: following, due };
}
