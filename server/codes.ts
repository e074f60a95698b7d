import type { Transaction } from "kysely";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";

type Reading = Store["db"] | Transaction<Tables>;

/** What leads from a session to a person. */
export type Codes = {
  /** The name its participant came with. */
  participant: string | null;
  /** What is shown at its end; empty where codes were removed. */
  completion: string;
  /** With this it goes on at another computer. */
  goOn: string | null;
  /** By name, what its link brought to lead its participant back. */
  cameWith: Record<string, string>;
};

const columns = ["participant_code", "completion_code", "go_on_code", "came_with"] as const;
type Row = Pick<Tables["session_codes"], (typeof columns)[number]>;

const inWords = (row: Row | undefined): Codes => ({
  participant: row?.participant_code ?? null,
  completion: row?.completion_code ?? "",
  goOn: row?.go_on_code ?? null,
  cameWith: row?.came_with == null ? {} : (JSON.parse(row.came_with) as Record<string, string>),
});

/** The codes of a session; those of one whose codes were removed, or that never was, are empty. */
export const codesOf = async (db: Reading, session: string): Promise<Codes> =>
  inWords(await db.selectFrom("session_codes").select(columns).where("session_id", "=", session).executeTakeFirst());

/** The same of several, by session. */
export async function codesOfAll(db: Reading, sessions: readonly string[]): Promise<ReadonlyMap<string, Codes>> {
  const rows = await db
    .selectFrom("session_codes")
    .select("session_id")
    .select(columns)
    .where("session_id", "in", sessions)
    .execute();
  return new Map(rows.map((row) => [row.session_id, inWords(row)]));
}

/** Of which sessions of a study a participant's or a go-on code is this one, to be looked for in another query. */
export const sessionsWith = (
  db: Reading,
  studyId: string,
  code: { participant_code: string } | { go_on_code: string },
) => {
  const ids = db.selectFrom("session_codes").select("session_codes.session_id").where("study_id", "=", studyId);
  return "participant_code" in code
    ? ids.where("participant_code", "=", code.participant_code)
    : ids.where("go_on_code", "=", code.go_on_code);
};
