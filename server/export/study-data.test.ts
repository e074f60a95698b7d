import { unzipSync } from "fflate";
import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { released } from "~/tests/support/store";
import { plainStudy } from "~/tests/support/studies";
import { exportFormats } from "../../core/export/formats/registry";
import { plainModel, simulateSession } from "../../core/simulate/participant";
import type { StudyDocument } from "../../core/design/document";
import { newSecret } from "../chance";
import { keptAsideOf, toldAside } from "../kept-aside";
import { appendRecords } from "../records";
import { linksOf } from "../links";
import type { ConditionAnswer } from "../results/conditions";
import type { RecordsPage } from "../results/records";
import { answered } from "../results/registry";
import { studyDataZip, tableFile } from "./study-data";
import { streamOf } from "./written";
import { startRehearsal } from "../rehearsals";
import { startSession } from "../sessions";

const firstPage = ({ parts }: StudyDocument) => Object.values(parts).find(({ kind }) => kind === "page")?.id ?? "";
const table = (text: string) => Papa.parse<Record<string, string>>(text.trimEnd(), { header: true }).data;

/** Three finished sessions and one rehearsal of the plain study. */
async function collected() {
  const { store, study, link } = await released();
  for (let count = 0; count < 3; count++) {
    const secret = newSecret();
    const session = await startSession(store, link.token, secret, "test browser");
    if (!session.ok) throw new Error(session.reason);
    await appendRecords(
      store,
      secret,
      simulateSession(plainStudy(), session.session.participant, session.session, "AB12", plainModel).records,
    );
  }
  const pilot = await startRehearsal(store, study, { participant: 1 }, "test browser");
  await appendRecords(
    store,
    pilot.secret,
    simulateSession(plainStudy(), 1, pilot.session, pilot.session.seed, plainModel).records,
  );
  return { store, study };
}

describe("the data of a study", () => {
  it("come as one zip of trials, sessions and codebook that fit each other", async () => {
    const { store, study } = await collected();
    const files = unzipSync(
      new Uint8Array(
        await new Response(
          streamOf(studyDataZip(store, study, { format: exportFormats.csv, pilots: false })),
        ).arrayBuffer(),
      ),
    );
    expect(Object.keys(files).toSorted()).toEqual([
      "codebook.csv",
      "codebook.md",
      "datapackage.json",
      "events.csv",
      "method.md",
      "read.R",
      "read.py",
      "sessions.csv",
      "trials.csv",
    ]);
    const read = (name: string) => table(new TextDecoder().decode(files[name]));
    const trials = read("trials.csv");
    expect(trials).toHaveLength(6);
    const method = new TextDecoder().decode(files["method.md"]);
    expect(method).toContain(`(${study.code}): for the method section`);
    expect(method).toContain("## Exclusions “Usual”");
    expect(method).not.toContain("Trial order");
    for (const table of ["trials", "sessions", "events"])
      expect(
        read("codebook.csv")
          .filter((line) => line["table"] === table)
          .map(({ name }) => name),
      ).toEqual(Object.keys(read(`${table}.csv`)[0] ?? {}));
    // The description fits the files, column by column.
    const described = JSON.parse(new TextDecoder().decode(files["datapackage.json"])) as {
      resources: { path: string; schema: { fields: { name: string }[] } }[];
    };
    for (const { path, schema } of described.resources)
      expect(schema.fields.map(({ name }) => name)).toEqual(Object.keys(read(path)[0] ?? {}));
    expect(described.resources.map(({ path }) => path)).toEqual(["trials.csv", "sessions.csv", "events.csv"]);
    expect(read("sessions.csv")[0]).toMatchObject({
      sitting: "1",
      order_of_parts: "Welcome > Block 1 > Goodbye",
      counts: "yes",
      seed: "AB12",
    });
    expect(read("sessions.csv").map(({ participant, state, trials: count }) => [participant, state, count])).toEqual([
      ["1", "finished", "2"],
      ["2", "finished", "2"],
      ["3", "finished", "2"],
    ]);
    expect(new Set(trials.map(({ session }) => session)).size).toBe(3);
  });

  it("have rehearsals only when asked for, marked as pilot", async () => {
    const { store, study } = await collected();
    const all = async (pilots: boolean) => {
      let text = "";
      for await (const piece of tableFile(store, study, "trials", { format: exportFormats.spreadsheet, pilots }))
        text += piece;
      return table(text.replace(/^\uFEFF/, "")).map(({ pilot }) => pilot);
    };
    expect(await all(false)).toEqual(Array(6).fill("no"));
    expect((await all(true)).filter((pilot) => pilot === "yes")).toHaveLength(2);
  });

  it("tell what was kept aside, and how it differs from what stands", async () => {
    const { store, study } = await collected();
    const session = await startSession(store, (await linksOf(store, study.id))[0]?.token ?? "", "s".repeat(32), "b");
    if (!session.ok) throw new Error(session.reason);
    const page = (done: number) => ({ kind: "page", number: 1, part: firstPage(study.document), shown: 5, done });
    for (const done of [10, 12, 10, 12]) await appendRecords(store, "s".repeat(32), [page(done)]);
    const kept = await keptAsideOf(store, study, { session: session.session.session });
    expect(kept.map((each) => toldAside(study, each))).toMatchObject([
      { number: 1, kind: "page", part: "Welcome", differs: [{ field: "done", first: "10", second: "12" }] },
    ]);
    const files = unzipSync(
      new Uint8Array(
        await new Response(
          streamOf(studyDataZip(store, study, { format: exportFormats.csv, pilots: false })),
        ).arrayBuffer(),
      ),
    );
    const [row] = table(new TextDecoder().decode(files["kept-aside.csv"]));
    expect([row?.participant, JSON.parse(row?.kept_aside ?? "")]).toEqual(["4", page(12)]);
  });

  it("are compared by the columns of the table, rehearsals left out", async () => {
    const { store, study } = await collected();
    const answer = (await answered(store, study, new URLSearchParams("by=word&and="))).answer as ConditionAnswer;
    expect(answer).toMatchObject({ levels: [["gull", "ferry"]], sessions: 3, trials: 6 });
    expect(answer.cells.map(({ persons }) => persons)).toEqual([3, 3]);
  });

  it("are shown a page at a time", async () => {
    const { store, study } = await collected();
    const ask = async (query: string) =>
      (await answered(store, study, new URLSearchParams(`tab=records&${query}`))).answer as RecordsPage;
    const page = await ask("");
    expect([page.total, page.rows.length, page.pages]).toEqual([6, 6, 1]);
    expect((await ask("page=2")).rows).toEqual([]);
    expect((await ask("pilots=yes")).total).toBe(2);
  });
});
