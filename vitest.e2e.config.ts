import { defineConfig } from "vitest/config";

const both = { testTimeout: 120_000, hookTimeout: 120_000 };
const files = (...names: string[]) => names.map((name) => `tests/e2e/${name}.test.ts`);

/**
 * End-to-end tests: the production build, a real server with a database of its own, Debian's Chromium. Those that look at
 * times run alone, one after the other; then those that look at screens, or at what survives what, two at a time.
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
          sequence: { groupOrder: 0 },
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
              "offline-page",
              "participant",
              "planning",
              "serving",
              "starts",
            ),
            "tests/faults/*.test.ts",
          ],
          maxWorkers: 2,
          sequence: { groupOrder: 1 },
        },
      },
    ],
  },
});
