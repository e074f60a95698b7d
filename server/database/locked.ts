import { PostgresAdapter, sql, type Kysely, type SelectQueryBuilder, type Transaction } from "kysely";
import type { Tables } from "./tables";

/** Whether a database has several writers at a time. */
export const hasManyWriters = (db: Kysely<Tables>): boolean => db.getExecutor().adapter instanceof PostgresAdapter;

/**
 * The query, with the rows it finds locked until the transaction ends, so that what is decided from them still holds when
 * it is written. A database with one writer at a time needs no lock.
 */
export const locked = <TB extends keyof Tables, O>(
  trx: Transaction<Tables>,
  query: SelectQueryBuilder<Tables, TB, O>,
): SelectQueryBuilder<Tables, TB, O> => (hasManyWriters(trx) ? query.forNoKeyUpdate() : query);

/** Others wait until this transaction ends before they make accounts or count tries to sign in. */
export const lockAccounts = async (trx: Transaction<Tables>): Promise<void> =>
  void (hasManyWriters(trx) && (await sql`lock table account in share row exclusive mode`.execute(trx)));

/** Others wait until this transaction ends before they give out or freeze anything in this study. */
export const lockStudy = async (trx: Transaction<Tables>, studyId: string): Promise<void> =>
  void (await locked(trx, trx.selectFrom("study").select("id").where("id", "=", studyId)).execute());
