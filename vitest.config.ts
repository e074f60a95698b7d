import { defineConfig } from "vitest/config";

export default defineConfig({
  resolve: { tsconfigPaths: true },
  test: {
    include: [
      "core/**/*.test.ts",
      "app/**/*.test.ts",
      "player/**/*.test.ts",
      "server/**/*.test.ts",
      "demo/**/*.test.ts",
      "docs/**/*.test.ts",
      "cli/**/*.test.ts",
      "bridge/**/*.test.ts",
      "tests/lint/*.test.ts",
    ],
    testTimeout: 60_000,
  },
});
