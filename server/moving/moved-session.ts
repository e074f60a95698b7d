import type { Insertable, Selectable } from "kysely";
import type { StudyDocument } from "../../core/design/document";
import { tidyTableNames, tidyTables } from "../../core/export/tidy-tables";
import { seedOf } from "../../core/order/seed";
import { logChunk, type LogChunk } from "../../core/records/log";
import { presentRecord } from "../../core/records/stored";
import { isDeeperThan } from "../../core/shape/depth";
import { hasShape } from "../../core/shape/shape";
import { newSecret, secretHash } from "../chance";
import type { Tables } from "../database/tables";
import { factsOf, type SessionInFull, type Sitting } from "../export/reader";
import { sessionSource } from "../export/session-source";
import { fittingRecord } from "../sent-records";
import type { Study } from "../studies";
import { sessionLine, type SessionLine } from "./lines";

/** A session of a data file, with the release it was played on. */
export type MovedOne = SessionLine & { number: number; document: StudyDocument };

/** The place of a session among those of its study, of which there is one; null without a number. */
export const placeOf = ({ participant, sitting, repeat }: SessionLine["session"]): string | null =>
  participant > 0 ? `${participant} ${sitting} ${repeat}` : null;

/** Reads a line of a data file's sessions; a sentence where it is no session that can have been recorded on its release. */
export function readSession(
  text: string,
  releases: ReadonlyMap<string, { number: number; document: StudyDocument }>,
  waves: ReadonlySet<string>,
): MovedOne | string {
  const line = asJson(text);
  if (line === null || !hasShape(sessionLine, line)) return "it has not the form of a session";
  const { session } = line;
  const release = releases.get(session.release);
  if (!release) return "its release is not in the file";
  if (session.wave !== null && !waves.has(session.wave)) return "its wave is not in the file";
  const { document } = release;
  if (session.removedAt !== null && line.records.length > 0) return "it was emptied, and has records";
  if (session.group !== "" && !document.groups.some(({ id }) => id === session.group))
    return "its group is none of its release";
  const parts = [session.orders, session.given ?? "{}", session.device ?? "{}", session.display ?? "{}"];
  if (parts.some((part) => !isObject(asJson(part)))) return "what was drawn for it cannot be read";
  for (const [at, { number, body }] of line.records.entries()) {
    if (number !== at + 1) return `record ${at + 1} is missing`;
    const record = fittingRecord(asJson(body), { document, trialsPlanned: session.trialsPlanned });
    if (record?.number !== number) return `record ${number} is none that its release can make`;
  }
  for (const { opening, number, entries } of line.log)
    if (!hasShape(logChunk, { opening, number, entries: asJson(entries) })) return "its log cannot be read";
  if (line.aside.some(({ body }) => asJson(body) === null)) return "what was kept aside of it cannot be read";
  const whole = { ...line, ...release };
  return canBeUnfolded(whole) ? whole : "its rows cannot be made";
}

/** Its row here. Nobody can play on: its secret is one that nobody has. */
export function sessionRow(
  { session, records, log, aside }: SessionLine,
  studyId: string,
): Insertable<Tables["session"]> {
  const characters = [...records, ...aside].reduce((sum, { body }) => sum + body.length, 0);
  return {
    id: session.id,
    study_id: studyId,
    token_hash: secretHash(newSecret()),
    participant: session.participant,
    entered: session.entered,
    group_id: session.group,
    orders: session.orders,
    stratum: session.stratum,
    sitting: session.sitting,
    repeat: session.repeat,
    given: session.given,
    device: session.device,
    computer_name: session.computer === "" ? null : session.computer,
    excluded_at: session.excludedAt,
    excluded_because: session.excludedBecause,
    pilot: 0,
    started_at: session.startedAt,
    browser: session.browser,
    removed_at: session.removedAt,
    link_token: null,
    release_id: session.release,
    wave_id: session.wave,
    trials_planned: session.trialsPlanned,
    ...standingRow({ session, records }),
    stored_characters: characters + log.reduce((sum, { entries }) => sum + entries.length, 0),
  };
}

/** How far it is. */
export const standingRow = ({ session, records }: Pick<SessionLine, "session" | "records">) => ({
  state: session.state,
  records: records.length,
  // As they are, whatever is said of them.
  trials: records.filter(({ body }) => (JSON.parse(body) as { kind: string }).kind === "trial").length,
  part: session.part,
  seen_at: session.seenAt,
  finished_at: session.finishedAt,
  display: session.display,
  scenes: session.scenes,
  late: session.late,
  looked_away: session.lookedAway,
  attempt: session.attempt,
});

/** Whether rows can be made of it in every table. */
function canBeUnfolded({ number, document, ...line }: MovedOne): boolean {
  try {
    const row = { entered: 0, rehearsal: null, asked: null, ...sessionRow(line, "") } as unknown as SessionInFull;
    const release = { id: row.release_id, number, document };
    const study = { code: "" } as Pick<Study, "code">;
    const facts = factsOf(study, release, row as Sitting["row"], "");
    const records = line.records.map(({ body }) => presentRecord(JSON.parse(body), document));
    const log: LogChunk[] = line.log.map((chunk) => ({
      opening: chunk.opening,
      number: chunk.number,
      entries: JSON.parse(chunk.entries) as LogChunk["entries"],
    }));
    const sitting: Sitting = { facts, release, row: row as Sitting["row"], computer: "" };
    const pages = records.filter(({ kind }) => kind === "page");
    const session = sessionSource(sitting, row as Selectable<Tables["session"]>, {
      records: pages,
      last: records.at(-1) ?? null,
    });
    const whole = { document, facts, seed: seedOf(document, row.sitting), records, log, session };
    for (const table of tidyTableNames) {
      const columns = tidyTables[table].columns([document]) as readonly { read: (source: never) => unknown }[];
      for (const source of tidyTables[table].rows(whole)) for (const { read } of columns) read(source as never);
    }
    return true;
  } catch {
    return false;
  }
}

const mostDepth = 30;
const isObject = (value: unknown) => typeof value === "object" && value !== null && !Array.isArray(value);

/** What a text of JSON says; null where it says nothing, or is nested deeper than anything here. */
function asJson(text: string): unknown {
  try {
    const value: unknown = JSON.parse(text);
    return isDeeperThan(value, mostDepth) ? null : value;
  } catch {
    return null;
  }
}

/** The records of a session as they are stored, in order. */
export type StoredBodies = readonly Pick<SessionLine["records"][number], "number" | "body">[];

/**
 * How a session of a file stands to what is here of it: `same`, also where the file has less of it; `longer` where it went on
 * elsewhere; `different` where the two tell different things.
 */
export function comparedTo(here: StoredBodies, there: StoredBodies): "same" | "longer" | "different" {
  const common = Math.min(here.length, there.length);
  for (let at = 0; at < common; at++) if (here[at]?.body !== there[at]?.body) return "different";
  return there.length > here.length ? "longer" : "same";
}

/** Records of a file that stand otherwise here, or not at all. */
export const otherwise = (here: StoredBodies, there: SessionLine["records"]): SessionLine["records"] =>
  there.filter(({ body }, at) => here[at]?.body !== body);
