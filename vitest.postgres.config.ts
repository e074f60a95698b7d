import { defineConfig } from "vitest/config";

/** The server's tests once more, on PostgreSQL, and what only several servers on one database can show. */
export default defineConfig({
  resolve: { tsconfigPaths: true },
  test: {
    globalSetup: "tests/support/postgres.ts",
    include: ["server/**/*.test.ts", "tests/postgres/*.test.ts"],
    testTimeout: 120_000,
    hookTimeout: 120_000,
    maxWorkers: 2,
  },
});
