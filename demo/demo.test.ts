import { ferries } from "./ferries";
import { schemeOf } from "../core/allocate/scheme";
import { parseStudy } from "../core/design/parse";
import { readFileSync } from "node:fs";
import { unzipSync } from "fflate";
import { describe, expect, it } from "vitest";
import { freshStore } from "~/tests/support/store";
import { preflight } from "../core/check/preflight";
import { demoAccount } from "../server/accounts";
import type { ConditionAnswer } from "../server/results/conditions";
import { answered } from "../server/results/registry";
import { listSessions } from "../server/session-list";
import { readStudyFile } from "../server/study-file-reading";
import { findStudy } from "../server/studies";
import { listStudies } from "../server/study-list";
import { addDemo } from "./add-demo";
import { wadersFromSource } from "./make-files";

describe("the demo study", () => {
  it("is shipped as the file its source makes, with nothing for preflight to find", async () => {
    const file = new Uint8Array(readFileSync("demo/waders.lapwing.zip"));
    const read = await readStudyFile(file);
    expect(read.ok && read.file.document).toEqual(wadersFromSource("demo").document);
    expect(Object.keys(unzipSync(file))).toHaveLength(3);
    expect(read.ok && preflight(read.file.document)).toEqual([]);
  });

  it("comes with 24 finished and 3 broken-off sessions whose effect can be seen, and is added once", async () => {
    const store = await freshStore();
    await addDemo(store, "demo");
    await addDemo(store, "demo");
    const account = await demoAccount(store);
    if (!account) throw new Error("no demo account");
    expect(await listStudies(store, account.id)).toHaveLength(5);
    const study = await findStudy(store, account.id, "amber-quay");
    if (!study) throw new Error("no demo study");
    const sessions = await listSessions(store, study.id);
    expect(sessions.filter(({ state }) => state === "finished")).toHaveLength(24);
    expect(sessions.filter(({ state }) => state === "broken off")).toHaveLength(3);
    const groups = study.document.groups.map(
      ({ id }) => sessions.filter(({ group, state }) => group === id && state === "finished").length,
    );
    expect(groups).toEqual([12, 12]);
    const found = await answered(store, study, new URLSearchParams("by=neighbours&and="));
    const { cells } = found.answer as ConditionAnswer;
    const [same, against] = cells;
    expect((against?.mean ?? 0) - (same?.mean ?? 0)).toBeGreaterThan(35);
    expect(against?.beside?.mean ?? 1).toBeLessThan(same?.beside?.mean ?? 0);
  });
});

it("the draft with a bracket has nothing to mend and is spread over six cells", () => {
  const document = ferries();
  const parsed = parseStudy(document);
  expect(parsed.ok ? [] : parsed.mistakes).toEqual([]);
  expect(preflight(document).filter(({ level }) => level !== "note")).toEqual([]);
  expect(schemeOf(document).map(({ cells }) => cells)).toEqual([3, 3]);
});
