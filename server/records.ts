import type { ShownEnd } from "../core/collect/ends";
import type { Store } from "./database/open";
import { intakeProblem } from "./intake";
import { judgedNow } from "./judging/judged-records";
import { asSent, mostChunksAtOnce } from "./sent-records";
import { storeIn } from "./stored-records";
import { sessionOfHash, sessionOfSecret, type SessionRow } from "./session-of-secret";

export type Appended =
  /** `acknowledged`: all records up to this number are stored for good. */
  | {
      ok: true;
      acknowledged: number;
      finished: boolean;
      code: string | null;
      /** What is shown at its end, where the link has a say in it. */
      end?: ShownEnd;
      /** Numbers under which another record came than the one that stands. */
      keptAside: number[];
      /** Numbers of records that cannot follow in this session: kept aside, and not acknowledged. */
      unplanned: number[];
      /** The session continues on another computer. */
      superseded: boolean;
    }
  /** `isFull`: not now, but later. */
  | { ok: false; reason: string; isFull?: boolean };
type Taken = Extract<Appended, { ok: true }>;

/**
 * Stores records of the session the secret opens, and says up to which number all are stored once they are on disk; what
 * other sessions send at the time shares the commit. The same record again is stored once; a different one under a used
 * number is kept aside and named in `keptAside`. Only what can follow by the session's plan is stored in place: what cannot
 * is kept aside, and so is what came before its turn, until its turn comes.
 */
export async function appendRecords(store: Store, secret: string, sent: unknown): Promise<Appended> {
  const session = await sessionOfSecret(store, secret);
  if (!session) return { ok: false, reason: "There is no such session." };
  return append(store, session, sent);
}

async function append(store: Store, session: SessionRow, sent: unknown): Promise<Appended> {
  const checked = asSent(sent, session);
  if (typeof checked === "string") return { ok: false, reason: checked };
  const full = await intakeProblem(store, store.db, session.studyId, session.link, false);
  if (full !== null) return { ok: false, reason: full, isFull: true };
  const { waiting } = checked;
  let [{ records, log }, isLate] = [checked, false];
  let before: Taken | null = null;
  for (;;) {
    const judged = await judgedNow(store, session, records, isLate);
    const done = await store.write((trx) => storeIn(store, trx, session, judged, { log, waiting }));
    // Another request stored records of this session meanwhile: what follows is judged anew.
    if (done === null) continue;
    const { isNextHere, isRemoved, ...appended } = done;
    if (!appended.ok) return before ?? appended;
    if (isRemoved) await store.settle();
    before = both(before, appended);
    if (!isNextHere) return before;
    // What was kept aside until its turn may follow now.
    [records, log, isLate] = [[], [], true];
  }
}

/** What was taken in two pieces, the second after the first. */
const both = (first: Taken | null, second: Taken): Taken => ({
  ...second,
  keptAside: [...(first?.keptAside ?? []), ...second.keptAside],
  unplanned: [...(first?.unplanned ?? []), ...second.unplanned],
});

/**
 * Takes in the answers of a file a participant saved because the server stayed away; with `studyId` only those of that
 * study. What is stored already stays as it is.
 */
export async function takeInSaved(store: Store, saved: unknown, studyId?: string): Promise<Appended> {
  const {
    session: id,
    records,
    log,
  } = (typeof saved === "object" && saved !== null ? saved : {}) as Record<string, unknown>;
  const found =
    typeof id === "string"
      ? await store.db.selectFrom("session").select(["token_hash", "study_id"]).where("id", "=", id).executeTakeFirst()
      : undefined;
  const isHere = found !== undefined && (studyId === undefined || found.study_id === studyId);
  const session = isHere ? await sessionOfHash(store, found.token_hash) : null;
  if (!session || !Array.isArray(records) || !Array.isArray(log))
    return {
      ok: false,
      reason: `This is no file of answers to this ${studyId === undefined ? "Lapwing" : "study"}. Choose one that a participant saved; its name ends in .lapwing-answers.json.`,
    };
  let last: Taken | null = null;
  for (let from = 0; from === 0 || from < Math.max(records.length, log.length); from += mostChunksAtOnce) {
    const piece = {
      records: records.slice(from, from + mostChunksAtOnce),
      log: log.slice(from, from + mostChunksAtOnce),
    };
    const taken = await append(store, session, piece);
    if (!taken.ok) return taken;
    last = both(last, taken);
  }
  return last ?? { ok: false, reason: "The file holds nothing." };
}
