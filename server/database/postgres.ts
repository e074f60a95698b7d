import {
  Kysely,
  OperationNodeTransformer,
  PostgresDialect,
  type KyselyPlugin,
  type PrimitiveValueListNode,
  type ValueNode,
} from "kysely";
import pg from "pg";
import type { Tables } from "./tables";

/** Whether an address leads to a PostgreSQL server. */
export const isPostgresAddress = (address: string): boolean => /^postgres(ql)?:\/\//.test(address);

/** The address without its password, to be shown. */
export const shownAddress = (address: string): string => address.replace(/(:\/\/[^:@/]*):[^@/]*@/, "$1@");

/** Counts come as 64 bits, which the driver would give as text; none here comes near what a number can hold. */
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

/** All that only PostgreSQL has stands in this file. */
export function postgresAt(address: string): Kysely<Tables> {
  const pool = new pg.Pool({ connectionString: address, max: 12, connectionTimeoutMillis: 10_000 });
  // A connection that breaks while no one uses it is made anew when it is needed.
  pool.on("error", (error) => console.error(`PostgreSQL: ${error.message}`));
  return new Kysely<Tables>({ dialect: new PostgresDialect({ pool }), plugins: [withoutNul] });
}

/** PostgreSQL stores no NUL characters in text, and only a hostile sender uses them: they are left out. */
class NulTaker extends OperationNodeTransformer {
  protected override transformValue(node: ValueNode): ValueNode {
    return { ...node, value: withoutNulIn(node.value) };
  }
  protected override transformPrimitiveValueList(node: PrimitiveValueListNode): PrimitiveValueListNode {
    return { ...node, values: node.values.map(withoutNulIn) };
  }
}
const withoutNulIn = (value: unknown): unknown =>
  typeof value === "string" && value.includes("\u0000") ? value.replaceAll("\u0000", "") : value;
const taker = new NulTaker();
const withoutNul: KyselyPlugin = {
  transformQuery: ({ node }) => taker.transformNode(node),
  transformResult: ({ result }) => Promise.resolve(result),
};

/**
 * Whether a retry may succeed: the server is away or stopping, has no room or no connection left, or rolled a
 * transaction back because of another (PostgreSQL's error classes 08, 40, 53, 55 and 57).
 */
export const isPostgresBusy = (error: unknown): boolean =>
  error instanceof Error &&
  (("code" in error &&
    /^(08|40|53|55|57)...$|^E(CONNREFUSED|CONNRESET|PIPE|HOSTUNREACH|TIMEDOUT)$/.test(String(error.code))) ||
    /^(Connection terminated|timeout exceeded when trying to connect)/.test(error.message));
