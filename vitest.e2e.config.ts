import { defineConfig } from "vitest/config";

/** End-to-end tests: the production build, a real server with a database of its own, Debian's Chromium. */
export default defineConfig({
  resolve: { tsconfigPaths: true },
  test: { include: ["tests/e2e/*.test.ts"], testTimeout: 120_000, hookTimeout: 120_000, fileParallelism: false },
});
