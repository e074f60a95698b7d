import type { Transaction } from "kysely";
import { mostRuns } from "../core/allocate/runs";
import type { StudyDocument } from "../core/design/document";
import { itemsIn } from "../core/design/lookup";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";

const [mega, giga] = [1e6, 1e9];

/** How much may come in: sessions begun, and characters stored, in a day (UTC), by one link and in a study. */
export const mostInADay = {
  link: { sessions: 10_000, characters: 1 * giga },
  study: { sessions: 20_000, characters: 2 * giga },
  /** Gaze takes much more room than records, and must not crowd them out: it is counted by itself, in a study. */
  gaze: { sessions: Infinity, characters: 20 * giga },
} as const;
/** From this share on the researcher is told. */
export const toldFrom = 0.8;

const telling = new WeakMap<StudyDocument, boolean>();
/** Whether a study has pages of its own, which can send much in a trial. */
function hasTellingPages(document: StudyDocument): boolean {
  const known = telling.get(document);
  if (known !== undefined) return known;
  const found = Object.values(document.parts).some(
    (part) => part.kind === "block" && itemsIn(part).some(({ kind }) => kind === "web"),
  );
  telling.set(document, found);
  return found;
}

/**
 * How much one session may store, in characters, by the trials of its plan: many times what a player sends, and little
 * enough that nobody fills a disk. What lies beside the records has less room, so that it cannot crowd them out.
 */
export function roomOf(trials: number, document: StudyDocument): { all: number; beside: number } {
  const played = trials * mostRuns(document);
  const all = Math.min(64 * mega, 4 * mega + played * (hasTellingPages(document) ? 1 * mega : 20_000));
  return { all, beside: all / 4 };
}

type Amount = { sessions: number; characters: number };
type Day = { day: string; links: Map<string, Amount> };
/** What one process knows of a study's day: what stands in the database, and what is not written there yet. */
type Known = { stored: Day; pending: Map<string, Amount>; writtenAt: number };

const known = new WeakMap<Store["db"], Map<string, Known>>();
/** What came in is written down at latest after so much, or so long: how much exactly is not what matters. */
const [pendingCharacters, pendingMs] = [1 * mega, 10_000];
const mostStudies = 5000;

const today = () => new Date().toISOString().slice(0, 10);
const sum = (amounts: Iterable<Amount>): Amount => {
  const all = { sessions: 0, characters: 0 };
  for (const { sessions, characters } of amounts) {
    all.sessions += sessions;
    all.characters += characters;
  }
  return all;
};
/** Sessions without a link are begun in the laboratory. */
const keyOf = (link: string | null) => link ?? "";
/** What gaze is counted under; no link can be called so. */
const ofGaze = " gaze";

async function knownOf(db: Store["db"], trx: Store["db"] | Transaction<Tables>, studyId: string): Promise<Known> {
  const all = known.get(db) ?? new Map<string, Known>();
  known.set(db, all);
  const there = all.get(studyId);
  if (there?.stored.day === today()) return there;
  if (all.size >= mostStudies) all.clear();
  const rows = await trx
    .selectFrom("intake")
    .selectAll()
    .where("study_id", "=", studyId)
    .where("day", "=", today())
    .execute();
  const links = new Map(rows.map(({ link, sessions, characters }) => [link, { sessions, characters }]));
  const fresh: Known = { stored: { day: today(), links }, pending: new Map(), writtenAt: Date.now() };
  all.set(studyId, fresh);
  return fresh;
}

const amountsIn = ({ stored, pending }: Known) => {
  const of = (link: string) => sum([stored.links.get(link), pending.get(link)].filter((each) => each !== undefined));
  const ofLinks = [...stored.links, ...pending].flatMap(([link, amount]) => (link === ofGaze ? [] : [amount]));
  return { study: sum(ofLinks), of };
};

/** Whether a study still takes in gaze today; the reason where not. */
export async function gazeProblem(store: Pick<Store, "db">, studyId: string): Promise<string | null> {
  const { characters } = amountsIn(await knownOf(store.db, store.db, studyId)).of(ofGaze);
  return characters < mostInADay.gaze.characters
    ? null
    : "This study has taken in as much gaze as it may today. The bridge keeps it on the laboratory’s computer.";
}
/** Counts gaze that was taken in, by itself. */
export const countGaze = (
  store: Pick<Store, "db">,
  trx: Transaction<Tables>,
  studyId: string,
  characters: number,
): Promise<void> => countIntake(store, trx, studyId, ofGaze, { sessions: 0, characters });

/** Whether a study and a link still take in what they may in a day; the reason where not. */
export async function intakeProblem(
  store: Pick<Store, "db">,
  trx: Store["db"] | Transaction<Tables>,
  studyId: string,
  link: string | null,
  isStart: boolean,
): Promise<string | null> {
  const { study, of } = amountsIn(await knownOf(store.db, trx, studyId));
  const isOver = (amount: Amount, most: Amount) =>
    (isStart && amount.sessions >= most.sessions) || amount.characters >= most.characters;
  const over = isOver(study, mostInADay.study) || (link !== null && isOver(of(keyOf(link)), mostInADay.link));
  if (!over) return null;
  return isStart
    ? "No more sessions can begin in this study today. Try again tomorrow, or ask the researcher."
    : "This study has taken in as much as it may today. It will be tried again; nothing is lost.";
}

/** Counts what was taken in; written into the database now and then. */
export async function countIntake(
  store: Pick<Store, "db">,
  trx: Transaction<Tables>,
  studyId: string,
  link: string | null,
  amount: Amount,
): Promise<void> {
  const day = await knownOf(store.db, trx, studyId);
  const key = keyOf(link);
  day.pending.set(key, sum([day.pending.get(key) ?? { sessions: 0, characters: 0 }, amount]));
  const waiting = sum(day.pending.values());
  if (waiting.characters < pendingCharacters && Date.now() - day.writtenAt < pendingMs) return;
  for (const [each, { sessions, characters }] of day.pending) {
    await trx
      .insertInto("intake")
      .values({ study_id: studyId, link: each, day: day.stored.day, sessions, characters })
      .onConflict((conflict) =>
        conflict.columns(["study_id", "link", "day"]).doUpdateSet((eb) => ({
          sessions: eb("intake.sessions", "+", sessions),
          characters: eb("intake.characters", "+", characters),
        })),
      )
      .execute();
    day.stored.links.set(
      each,
      sum([day.stored.links.get(each) ?? { sessions: 0, characters: 0 }, { sessions, characters }]),
    );
  }
  day.pending.clear();
  day.writtenAt = Date.now();
}

/** What is to be said to the researcher of how much has come in today, before it is too much; null while it is far from that. */
export async function intakeInWords(store: Pick<Store, "db">, studyId: string): Promise<string | null> {
  const day = await knownOf(store.db, store.db, studyId);
  const { study, of } = amountsIn(day);
  const shareOf = (amount: Amount, most: Amount) =>
    Math.max(amount.sessions / most.sessions, amount.characters / most.characters);
  const links = new Set(
    [...day.stored.links.keys(), ...day.pending.keys()].filter((link) => link !== "" && link !== ofGaze),
  );
  const gaze = of(ofGaze).characters / mostInADay.gaze.characters;
  const ofItsGaze =
    gaze < toldFrom
      ? null
      : gaze >= 1
        ? "As much gaze came in today as may in a day: what is recorded now stays with the bridge on the laboratory’s computer."
        : `Gaze that came in today is ${Math.floor(gaze * 100)} % of what may come in a day.`;
  const share = Math.max(
    shareOf(study, mostInADay.study),
    ...[...links].map((link) => shareOf(of(link), mostInADay.link)),
  );
  if (share < toldFrom) return ofItsGaze;
  const said = `${study.sessions.toLocaleString("en")} sessions and ${Math.round(study.characters / mega).toLocaleString("en")} MB came in today`;
  return share >= 1
    ? `${said}: as much as may come in a day, so nobody can begin before tomorrow (UTC). If these are not your participants, close the link.`
    : `${said}, ${Math.floor(share * 100)} % of what may come in a day. If these are not your participants, close the link.`;
}
