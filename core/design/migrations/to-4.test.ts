import { readFileSync } from "node:fs";
import { expect, it } from "vitest";
import { parseStudy } from "../parse";
import { currentVersion } from "../version";
import { newParticipation } from "../participation";

it("brings a saved file of version 2 up to date, with nothing asked of participants", () => {
  const parsed = parseStudy(JSON.parse(readFileSync("tests/support/limits-version-2.lapwing.json", "utf8")));
  if (!parsed.ok) throw new Error(parsed.mistakes.join("\n"));
  expect(parsed.document.version).toBe(currentVersion);
  expect(parsed.document.settings.participation).toEqual(newParticipation());
});

it("makes a pause that named a page a break with the page's text", () => {
  const old = JSON.parse(readFileSync("tests/support/eight-trials.lapwing.json", "utf8")) as {
    parts: Record<string, Record<string, unknown>>;
  };
  Object.assign(old.parts["boats"] ?? {}, { pause: { everyTrials: 4, page: "hello" } });
  const parsed = parseStudy(old);
  if (!parsed.ok) throw new Error(parsed.mistakes.join("\n"));
  expect(parsed.document.parts["boats"]).toMatchObject({
    breaks: { everyTrials: 4, leastSeconds: 0, body: [{ runs: [{ text: "Eight boats pass." }] }] },
  });
});
