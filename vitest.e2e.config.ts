import { defineConfig } from "vitest/config";

const both = { testTimeout: 120_000, hookTimeout: 120_000 };

/**
 * End-to-end tests: the production build, a real server with a database of its own, Debian's Chromium. Those that look at
 * times run alone, one after the other; then those that only look at screens, two at a time.
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
          include: [
            ...["whole-way", "session", "participant", "self-test", "serving", "items", "pixels"].map(
              (name) => `tests/e2e/${name}.test.ts`,
            ),
            "tests/faults/*.test.ts",
          ],
          maxWorkers: 1,
          sequence: { groupOrder: 0 },
        },
      },
      {
        extends: true,
        test: {
          ...both,
          name: "screens",
          include: ["access", "composing", "designing", "keyboard", "planning", "starts"].map(
            (name) => `tests/e2e/${name}.test.ts`,
          ),
          maxWorkers: 2,
          sequence: { groupOrder: 1 },
        },
      },
    ],
  },
});
