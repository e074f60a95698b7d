import { unzipSync } from "fflate";
import fc from "fast-check";
import Papa from "papaparse";
import { expect, it } from "vitest";
import { released } from "~/tests/support/store";
import { withEveryKind } from "~/tests/support/forms";
import { plainStudy } from "~/tests/support/studies";
import { logKinds } from "../core/records/log";
import type { SessionRecord } from "../core/records/record";
import { plainModel, simulateSession } from "../core/simulate/participant";
import { newSecret } from "./chance";
import { exportFormats } from "../core/export/formats/registry";
import { studyDataZip } from "./export/study-data";
import { streamOf } from "./export/written";
import { judgeOn, type Judge } from "./judging/judgments";
import { measuredMinutes } from "./progress";
import { appendRecords } from "./records";
import { sessionTables } from "./results/records";
import { answered, resultNames } from "./results/registry";
import { listSessions } from "./session-list";
import { resumeSession } from "./session-of-secret";
import { startSession } from "./sessions";
import { DataReader } from "./export/reader";
import { timingOf } from "./results/timing";
import { thresholdsOf } from "./results/thresholds";
import { watchedIn } from "./results/watched";

const oddText = fc.constantFrom(
  "",
  "=1+1",
  "__proto__",
  "constructor",
  'a"b,c\n\rd',
  "\u0000",
  "\ud800",
  "x".repeat(900),
);
const oddNumber = fc.constantFrom(0, -0, 1, 0.5, 3, 1e7, 1e10, -1, 1e308, -1e308, 5e-324);
/** What names something of the plan, or tells one kind from another, must fit; all else may be anything of its type. */
const fitting = new Set([
  "kind",
  "number",
  "part",
  "row",
  "scene",
  "answer",
  "trial",
  "device",
  "what",
  "why",
  "outcome",
  "question",
  "state",
]);

type Odd = { odds: () => number; text: () => string; number: () => number };
/** The same value with some of its texts, numbers and lists made strange. */
function strange(value: unknown, odd: Odd, name = ""): unknown {
  if (fitting.has(name)) return value;
  if (Array.isArray(value)) {
    const isEmptied = !["answers", "scenes"].includes(name) && odd.odds() === 0;
    return isEmptied ? [] : value.map((each: unknown) => strange(each, odd));
  }
  if (typeof value === "object" && value !== null)
    return Object.fromEntries(Object.entries(value).map(([key, each]) => [key, strange(each, odd, key)]));
  if (odd.odds() !== 0) return value;
  return typeof value === "string" ? odd.text() : typeof value === "number" ? odd.number() : value;
}

it("records that fit in shape and are odd in all else break nothing that reads them, and touch no other session", async () => {
  const document = withEveryKind(plainStudy());
  const { store, study, link } = await released(document);
  // Earlier versions stored what fits in shape, whether or not it could have been played.
  const asBefore: Judge = ({ records }) => Promise.resolve({ follow: records.length, why: null });
  store.judge = asBefore;
  const begin = async () => {
    const secret = newSecret();
    const started = await startSession(store, link.token, secret, "b");
    if (!started.ok) throw new Error(started.reason);
    const { participant } = started.session;
    return {
      id: started.session.session,
      secret,
      records: simulateSession(document, participant, started.session, "AB12", plainModel).records,
    };
  };
  const honest = await begin();
  await appendRecords(store, honest.secret, honest.records);
  const files = async () =>
    unzipSync(
      new Uint8Array(
        await new Response(
          streamOf(studyDataZip(store, study, { format: exportFormats.spreadsheet, pilots: true })),
        ).arrayBuffer(),
      ),
    );
  const rowsOf = (zip: Record<string, Uint8Array>, name: string) =>
    Papa.parse<Record<string, string>>(
      new TextDecoder()
        .decode(zip[Object.keys(zip).find((each) => each.endsWith(name)) ?? ""])
        .replace(/^\uFEFF/, "")
        .trimEnd(),
      { header: true },
    ).data;
  const before = rowsOf(await files(), "trials.csv");
  expect(before.length).toBe(2);

  let taken = 0;
  await fc.assert(
    fc.asyncProperty(
      fc.infiniteStream(fc.nat(5)),
      fc.infiniteStream(oddText),
      fc.infiniteStream(oddNumber),
      fc.array(fc.record({ at: oddNumber, what: fc.constantFrom(...logKinds), value: oddText }), { maxLength: 5 }),
      async (chances, texts, numbers, entries) => {
        const { id, secret, records } = await begin();
        const odd = strange(records, {
          odds: () => chances.next().value,
          text: () => texts.next().value,
          number: () => numbers.next().value,
        }) as SessionRecord[];
        for (const record of odd) if ((await appendRecords(store, secret, [record])).ok) taken++;
        // Judged as they are now, they are taken or refused, and nothing fails.
        store.judge = judgeOn(store);
        const judged = await begin();
        for (const record of odd) await appendRecords(store, judged.secret, [record]);
        store.judge = asBefore;
        const log = [{ opening: "a", number: 1, entries: entries.filter(({ at }) => at >= 0) }];
        await appendRecords(store, secret, { records: [], log });
        await resumeSession(store, secret);
        const reader = (await DataReader.open(store, study, { pilots: true })).only(
          ({ facts }) => facts.session === id,
        );
        await sessionTables(reader);
        await timingOf(reader);
        await thresholdsOf(reader);
        await watchedIn(reader);
      },
    ),
    { numRuns: 60 },
  );
  expect(taken).toBeGreaterThan(60);
  const zip = await files();
  const honestRows = (rows: Record<string, string>[]) => rows.filter(({ session }) => session === honest.id);
  expect(honestRows(rowsOf(zip, "trials.csv")).map((row) => row.rt_ms)).toEqual(before.map((row) => row.rt_ms));
  expect(rowsOf(zip, "sessions.csv").length).toBe(121);
  // A cell that a spreadsheet would run stays text, whoever sent it.
  expect(honestRows(rowsOf(zip, "answers.csv")).map(({ state }) => state)).toContain("answered");
  for (const name of ["trials.csv", "events.csv", "sessions.csv", "answers.csv"])
    for (const row of rowsOf(zip, name))
      for (const cell of Object.values(row)) expect(cell.startsWith("=")).toBe(false);
  for (const name of resultNames)
    await answered(store, study, new URLSearchParams({ tab: name, by: "word", practice: "yes", pilots: "yes" }));
  await listSessions(store, study.id);
  await measuredMinutes(store, study.id);
});
