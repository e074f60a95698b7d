import { defineConfig } from "vitest/config";

// A machine that does other work too is given time: what is waited for is a state, never a moment.
const patience = { testTimeout: 120_000, hookTimeout: 120_000, expect: { poll: { timeout: 30_000 } } };

/**
 * End-to-end tests: the production build, a real server with a database of its own, Debian's Chromium. Two files at a time;
 * what looks at times does so in the page, frame by frame, and holds on a busy machine.
 */
export default defineConfig({
  resolve: { tsconfigPaths: true },
  test: {
    ...patience,
    include: ["tests/e2e/*.test.ts", "tests/faults/*.test.ts"],
    globalSetup: "tests/support/demo-template.ts",
    maxWorkers: 2,
  },
});
