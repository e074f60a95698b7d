import { defineConfig } from "vitest/config";

/** Benchmarks: run by hand, they print their figures and assert no times. See tests/bench/. */
export default defineConfig({
  resolve: { tsconfigPaths: true },
  test: { include: ["tests/bench/*.test.ts"], testTimeout: 900_000, fileParallelism: false },
});
