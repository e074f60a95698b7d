import type { ExpressionBuilder } from "kysely";
import type { StudyDocument } from "../core/design/document";
import type { Tables } from "./database/tables";

/** Sessions that were last seen after this moment, in ms since 1970, are still under way. */
export const stillThereSince = ({ allocation }: Pick<StudyDocument, "allocation">): number =>
  Date.now() - allocation.counts.activeMinutes * 60_000;

/** Whether a session that has not ended is still under way: seen since then, and not longer than its link lets it be. */
export const isUnderWay = ({ seen_at, ends_by }: { seen_at: string; ends_by: string | null }, since: number): boolean =>
  Date.parse(seen_at) > since && (ends_by === null || Date.parse(ends_by) > Date.now());

/** The same as a condition of a query on sessions. */
export const underWay =
  (since: number) =>
  <T extends Pick<Tables, "session">>(eb: ExpressionBuilder<T, "session">) => {
    const of = eb as unknown as ExpressionBuilder<Tables, "session">;
    return of.and([
      of("session.seen_at", ">", new Date(since).toISOString()),
      of.or([of("session.ends_by", "is", null), of("session.ends_by", ">", new Date().toISOString())]),
    ]);
  };
