import { defineConfig } from "vitest/config";

// A machine that does other work too is given time: what is waited for is a state, never a moment.
const both = { testTimeout: 120_000, hookTimeout: 120_000, expect: { poll: { timeout: 15_000 } } };
const files = (...names: string[]) => names.map((name) => `tests/e2e/${name}.test.ts`);

/**
 * End-to-end tests: the production build, a real server with a database of its own, Debian's Chromium. Those that look at
 * times run alone, one after the other; those that look at screens, or at what survives what, two at a time.
 */
export default defineConfig({
  resolve: { tsconfigPaths: true },
  test: {
    globalSetup: "tests/support/demo-template.ts",
    projects: [
      {
        extends: true,
        test: {
          ...both,
          name: "timing",
          include: files("whole-way", "session", "self-test", "items", "pixels"),
          maxWorkers: 1,
          sequence: { groupOrder: 1 },
        },
      },
      {
        extends: true,
        test: {
          ...both,
          name: "screens",
          include: [
            ...files(
              "access",
              "composing",
              "designing",
              "keyboard",
              "loading",
              "participant",
              "plain-http",
              "planning",
              "serving",
              "starts",
            ),
            "tests/faults/*.test.ts",
          ],
          maxWorkers: 2,
          sequence: { groupOrder: 2 },
        },
      },
    ],
  },
});
