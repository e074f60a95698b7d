import type { Kysely, Migration } from "kysely";

type Any = Kysely<unknown>;

/** Sessions that were recorded at another installation. */
export const movingMigrations: Record<string, Migration> = {
  "0026_moved_sessions": {
    up: async (db: Any) => {
      // Computers of laboratories stay where they are; their names go along.
      await db.schema.alterTable("session").addColumn("computer_name", "text").execute();
    },
  },
};
