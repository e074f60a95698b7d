import { strFromU8, unzipSync } from "fflate";
import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { played } from "~/tests/support/played";
import { bidsFile, psychDsFile } from "../../core/export/layouts/layouts";
import { csv } from "../../core/export/formats/csv";
import type { Store } from "../database/open";
import type { Study } from "../studies";
import { layoutZip, type LayoutChoice } from "./layouts";
import { tableFile, type TableAlone } from "./study-data";
import { bytesOf, streamOf } from "./written";

const filesOf = async (store: Store, study: Study, layout: LayoutChoice["layout"], design = true) => {
  const zip = layoutZip(store, study, { layout, wave: null, design });
  const files = unzipSync(new Uint8Array(await new Response(streamOf(zip)).arrayBuffer()));
  return new Map(Object.entries(files).map(([name, bytes]) => [name, strFromU8(bytes)]));
};
async function csvOf(store: Store, study: Study, table: TableAlone): Promise<string> {
  let text = "";
  for await (const piece of tableFile(store, study, table, { format: csv, pilots: false }))
    text += Buffer.from(bytesOf(piece)).toString();
  return text;
}
const rowsIn = (text: string, delimiter: "," | "\t") =>
  Papa.parse<Record<string, string>>(text.trimEnd(), {
    header: true,
    delimiter,
    quoteChar: delimiter === "," ? '"' : "\0",
  }).data;
const json = (text: string | undefined) => JSON.parse(text ?? "null") as Record<string, unknown>;

describe("all data in a layout that a community has agreed on", () => {
  it("are a Psych-DS data set: its description, its names of files, the same tables", async () => {
    const { store, study } = await played(2);
    const files = await filesOf(store, study, "psych-ds");
    const description = json(files.get("dataset_description.json"));
    expect(description).toMatchObject({
      "@context": "https://schema.org/",
      "@type": "Dataset",
      name: study.document.title,
    });
    const variables = (description["variableMeasured"] as { name: string }[]).map(({ name }) => name);
    for (const name of ["trials", "sessions", "events"] as const) {
      const file = psychDsFile(study.code, name);
      expect(file).toMatch(/^data\/study-[a-z]+_desc-[a-z]+_data\.csv$/);
      expect(files.get(file)).toBe(await csvOf(store, study, name));
      for (const column of Object.keys(rowsIn(files.get(file) ?? "", ",")[0] ?? {}))
        expect(variables).toContain(column);
    }
    expect([...files.keys()]).toEqual(
      expect.arrayContaining([
        "documentation/codebook.md",
        "documentation/method.md",
        "materials/release-1.lapwing.json",
      ]),
    );
    // Whoever may not see the design gets none of it.
    const without = await filesOf(store, study, "psych-ds", false);
    expect([...without.keys()].some((name) => name.startsWith("materials/"))).toBe(false);
  });

  it("are a BIDS data set: a folder each participant, trials and events of each session, onsets in seconds", async () => {
    const { store, study } = await played(3);
    const files = await filesOf(store, study, "bids");
    expect(json(files.get("dataset_description.json"))).toMatchObject({ BIDSVersion: "1.9.0", DatasetType: "raw" });
    const participants = rowsIn(files.get("participants.tsv") ?? "", "\t");
    expect(participants.map((row) => row["participant_id"])).toEqual(["sub-001", "sub-002", "sub-003"]);
    const all = rowsIn(await csvOf(store, study, "trials"), ",");
    const events = rowsIn(await csvOf(store, study, "events"), ",");
    for (const participant of [1, 2, 3]) {
      const place = { participant, session: "", sitting: null, repeat: 0 };
      const beh = rowsIn(files.get(bidsFile(study.code, place, "beh")) ?? "", "\t");
      const own = all.filter((row) => row["participant"] === String(participant));
      expect(beh).toHaveLength(own.length);
      expect(beh.map((row) => row["rt_ms"])).toEqual(own.map((row) => (row["rt_ms"] === "" ? "n/a" : row["rt_ms"])));
      const happened = rowsIn(files.get(bidsFile(study.code, place, "events")) ?? "", "\t");
      expect(Object.keys(happened[0] ?? {}).slice(0, 2)).toEqual(["onset", "duration"]);
      const ownEvents = events.filter((row) => row["participant"] === String(participant));
      expect(happened.map((row) => Number(row["onset"]) * 1000)).toEqual(
        ownEvents.map((row) => expect.closeTo(Number(row["at_ms"]), 3)),
      );
    }
    // Each column is described beside its files.
    const task =
      bidsFile(study.code, { participant: 1, session: "", sitting: null, repeat: 0 }, "beh").match(
        /task-[a-z]+/,
      )?.[0] ?? "";
    const described = json(files.get(`${task}_beh.json`));
    for (const column of Object.keys(all[0] ?? {})) expect(described).toHaveProperty([column]);
  });

  it("tell sittings and repeats apart in the names of files", () => {
    expect(bidsFile("amber-quay", { participant: 12, session: "s", sitting: 2, repeat: 1 }, "events")).toBe(
      "sub-012/ses-2/beh/sub-012_ses-2_task-amberquay_run-2_events.tsv",
    );
    expect(bidsFile("amber-quay", { participant: 0, session: "session-ab1", sitting: null, repeat: 0 }, "beh")).toBe(
      "sub-sessionab1/beh/sub-sessionab1_task-amberquay_beh.tsv",
    );
  });
});
