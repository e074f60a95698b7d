import type { Selectable } from "kysely";
import type { StudyDocument } from "../core/design/document";
import { hasSittings } from "../core/design/sittings";
import {
  nextSitting,
  sittingState,
  sittingStates,
  type Due,
  type LastSitting,
  type Now,
  type SittingState,
  type WhyNoSitting,
} from "../core/order/sittings";
import { filledIn } from "../core/wording/names";
import { localeOf, wordingFor } from "../core/wording/wording";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";
import { nameless } from "./link-names";

type Row = Pick<Selectable<Tables["session"]>, "sitting" | "state" | "finished_at" | "seen_at">;

/** A session as the sitting of its participant that was begun last. */
export const lastSitting = ({ sitting, state, finished_at, seen_at }: Row): LastSitting => ({
  sitting,
  isOver: state !== "active",
  isFinished: state === "finished",
  endedAt: Date.parse(finished_at ?? seen_at),
});

/** Days are told in the time zone of the server. */
const hereNow = (): Now => ({ now: Date.now(), zone: Intl.DateTimeFormat().resolvedOptions().timeZone });

/** Which sitting somebody can begin who was here before, or why none: in the words participants read. */
export function nextFor(document: StudyDocument, last: LastSitting): { sitting: number } | NoSitting {
  const next = nextSitting(document, last, hereNow());
  return "why" in next ? { why: next.why, reason: inWords(document, next.why, next.due) } : next;
}
export type NoSitting = { why: WhyNoSitting; reason: string };

/** A sitting that was begun and does not count is begun anew, in a study that says which sittings it has. */
export const isGivenUp = (document: StudyDocument, row: { state: string; excluded_at: string | null }): boolean =>
  hasSittings(document) && row.state === "active" && row.excluded_at !== null;

function inWords({ language, settings }: StudyDocument, why: WhyNoSitting, due: Due | null): string {
  const wording = wordingFor(language, settings.participation.wording);
  const plain: Record<WhyNoSitting, string> = {
    unfinished: wording.sittingUnderWay,
    "all-done": wording.takenPart,
    early: wording.sittingEarly,
    over: wording.sittingOver,
  };
  const when = due
    ? new Intl.DateTimeFormat(localeOf(language), { dateStyle: "long", timeZone: "UTC" }).format(new Date(due.from))
    : "";
  return filledIn(plain[why], { when });
}

/** What the experimenter is told where a participant's next sitting cannot begin. */
export const noSittingInLab = (participant: number, why: WhyNoSitting): string =>
  why === "unfinished"
    ? `The last sitting of participant ${participant} is not finished. Mark it “do not count” to begin it anew.`
    : `Participant ${participant} has done all sittings there are.`;

/** A participant among the sittings of a study. */
export type InSittings = {
  participant: number;
  /** The name they came with, or that of the link they were given; empty for nobody's. */
  who: string;
  /** The link of their own; null for others. */
  token: string | null;
  done: number;
  state: SittingState;
  /** The number of the sitting that is next, from 1; null where none is. */
  next: number | null;
  due: Due | null;
};
/** How many stand how, and the first of them. */
export type SittingList = { counts: Record<SittingState, number>; listed: InSittings[] };

/** So many are listed. */
const mostListed = 300;

/** How the participants stand whose last sitting was in a wave: those who need somebody first, then by number. */
export async function sittingsIn(
  { db }: Store,
  studyId: string,
  waveId: string,
  document: StudyDocument,
): Promise<SittingList> {
  const rows = await db
    .selectFrom("session")
    .leftJoin("entry_link", "entry_link.token", "session.link_token")
    .leftJoin("session_codes", "session_codes.session_id", "session.id")
    .select([
      ...(["session.participant", "session.sitting", "session.state", "session.finished_at"] as const),
      ...(["session.seen_at", "session_codes.participant_code", "session.wave_id", "session.link_token"] as const),
      ...(["entry_link.label", "entry_link.set_id"] as const),
    ])
    .where("session.study_id", "=", studyId)
    .where("session.pilot", "=", 0)
    .where("session.participant", ">", 0)
    .orderBy("session.participant")
    .orderBy("session.sitting")
    .orderBy("session.repeat")
    .execute();
  const last = [...new Map(rows.map((row) => [row.participant, row])).values()];
  const at = hereNow();
  const people = last
    .filter(({ wave_id }) => wave_id === waveId)
    .map((row): InSittings => {
      const { state, next, due } = sittingState(document, lastSitting(row), at);
      const label = row.set_id !== null && row.label !== nameless ? row.label : null;
      return {
        participant: row.participant,
        who: label ?? row.participant_code ?? "",
        token: row.set_id === null ? null : row.link_token,
        done: row.state === "finished" ? row.sitting : row.sitting - 1,
        ...{ state, next: next && row.sitting + 1, due },
      };
    });
  const inState = sittingStates.map((state) => [state, people.filter((each) => each.state === state)] as const);
  return {
    counts: Object.fromEntries(inState.map(([state, own]) => [state, own.length])) as SittingList["counts"],
    listed: inState.flatMap(([, own]) => own).slice(0, mostListed),
  };
}
