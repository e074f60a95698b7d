import type { About } from "../core/describe/about";
import { newId } from "./chance";
import type { Store } from "./database/open";

export type Comment = {
  id: string;
  about: About;
  text: string;
  by: string;
  /** Whether whoever asks wrote it. */
  isMine: boolean;
  at: string;
  resolved: { at: string; by: string } | null;
  answers: { id: string; text: string; by: string; at: string }[];
};

/** So many comments a study has at most, answers among them. */
const mostComments = 2000;

/** The comments on a design, oldest first, each with its answers. */
export async function commentsOn({ db }: Store, studyId: string, accountId: string): Promise<Comment[]> {
  const rows = await db
    .selectFrom("study_comment")
    .innerJoin("account", "account.id", "study_comment.account_id")
    .selectAll("study_comment")
    .select("account.name")
    .where("study_id", "=", studyId)
    .orderBy("at")
    .orderBy("study_comment.id")
    .execute();
  return rows
    .filter(({ answers }) => answers === null)
    .map((row) => ({
      id: row.id,
      about: JSON.parse(row.about) as About,
      text: row.text,
      by: row.name,
      isMine: row.account_id === accountId,
      at: row.at,
      resolved: row.resolved_at === null ? null : { at: row.resolved_at, by: row.resolved_by ?? "" },
      answers: rows
        .filter(({ answers }) => answers === row.id)
        .map(({ id, text, name, at }) => ({ id, text, by: name, at })),
    }));
}

/** How many comments are not resolved. */
export async function openComments({ db }: Store, studyId: string): Promise<number> {
  const { count } = await db
    .selectFrom("study_comment")
    .select(({ fn }) => fn.countAll<number>().as("count"))
    .where("study_id", "=", studyId)
    .where("answers", "is", null)
    .where("resolved_at", "is", null)
    .executeTakeFirstOrThrow();
  return Number(count);
}

/** Adds a comment, or an answer to one; gives why it cannot be. */
export async function addComment(
  { db }: Store,
  studyId: string,
  { account, about, answers, text }: { account: string; about: About; answers: string | null; text: string },
): Promise<string | null> {
  return db.transaction().execute(async (trx) => {
    const { count } = await trx
      .selectFrom("study_comment")
      .select(({ fn }) => fn.countAll<number>().as("count"))
      .where("study_id", "=", studyId)
      .executeTakeFirstOrThrow();
    if (Number(count) >= mostComments) return `A study has at most ${mostComments} comments.`;
    if (answers !== null) {
      const there = await trx
        .selectFrom("study_comment")
        .select("id")
        .where("id", "=", answers)
        .where("study_id", "=", studyId)
        .where("answers", "is", null)
        .executeTakeFirst();
      if (!there) return "The comment you answer is gone.";
    }
    await trx
      .insertInto("study_comment")
      .values({
        ...{ id: newId("comment"), study_id: studyId, about: JSON.stringify(about), answers, text },
        ...{ account_id: account, at: new Date().toISOString(), resolved_at: null, resolved_by: null },
      })
      .execute();
    return null;
  });
}

/** Says that a comment is settled, or that it is not. */
export async function resolveComment({ db }: Store, studyId: string, id: string, by: string | null): Promise<void> {
  await db
    .updateTable("study_comment")
    .set({ resolved_at: by === null ? null : new Date().toISOString(), resolved_by: by })
    .where("id", "=", id)
    .where("study_id", "=", studyId)
    .where("answers", "is", null)
    .execute();
}
