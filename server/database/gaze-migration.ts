import type { Kysely, Migration } from "kysely";

type Any = Kysely<unknown>;

/** Where participants looked: samples in pieces that are numbered in each session. */
export const gazeMigrations: Record<string, Migration> = {
  "0029_gaze": {
    up: async (db: Any) => {
      await db.schema
        .createTable("gaze_piece")
        .addColumn("session_id", "text", (c) => c.notNull().references("session.id"))
        .addColumn("number", "integer", (c) => c.notNull())
        // Up to which piece of the recording it goes.
        .addColumn("through", "integer", (c) => c.notNull())
        .addColumn("count", "integer", (c) => c.notNull())
        // By how much its times may be off, in ms.
        .addColumn("error_ms", "real")
        // Packed, compressed with gzip, as base64.
        .addColumn("samples", "text", (c) => c.notNull())
        .addColumn("received_at", "text", (c) => c.notNull())
        .addPrimaryKeyConstraint("gaze_piece_key", ["session_id", "number"])
        .execute();
    },
  },
};
