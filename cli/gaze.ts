import { createWriteStream } from "node:fs";
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import type { ShownTable } from "../core/export/tables/table";
import { plainViewer, simulateGaze } from "../core/gaze/simulate";
import type { Store } from "../server/database/open";
import { frozenDocument } from "../server/frozen-documents";
import { gazeInDegrees } from "../server/gaze";
import { Plain } from "./arguments";
import { studyCalled, withStore } from "./store";

const thousandth = (value: number) => Math.round(value * 1000) / 1000;

/** Where the participants of a study looked: a line each sample of each session, in the columns that `gazeEvents` reads, and who it was. */
async function* gazeOfStudy(store: Store, studyId: string): AsyncGenerator<(string | number | null)[]> {
  yield ["participant", "session", ...sampleHeader, "distance_cm"];
  const sessions = await store.db
    .selectFrom("session")
    .select(["id", "participant", "release_id"])
    .where("study_id", "=", studyId)
    .where("pilot", "=", 0)
    .orderBy("started_at")
    .execute();
  const cell = (value: number) => (Number.isNaN(value) ? null : thousandth(value));
  for (const { id, participant, release_id } of sessions) {
    const { settings } = await frozenDocument(store.db, release_id);
    for await (const { time, left, right, distance } of gazeInDegrees(store, id, settings.viewing))
      yield [participant, id, ...[time, left.x, left.y, right.x, right.y, left.pupil, right.pupil, distance].map(cell)];
  }
}

/** The same as a file. */
export async function writeGaze(code: string, out: string | undefined): Promise<number> {
  if (!out) throw new Plain("Say where to write the samples, with --out F.csv.");
  return withStore(async (store) => {
    const { id } = await studyCalled(store, code);
    const lines = async function* () {
      for await (const row of gazeOfStudy(store, id)) yield `${row.map((each) => each ?? "").join(",")}\n`;
    };
    await pipeline(Readable.from(lines()), createWriteStream(out));
    return 0;
  });
}

const sampleHeader = [
  ...["time_ms", "left_x_deg", "left_y_deg", "right_x_deg", "right_y_deg", "left_pupil_mm", "right_pupil_mm"],
];

/** Samples of a simulated viewer of both eyes, in the columns that `gazeEvents` reads. */
export function simulatedSamples(seed: string): ShownTable {
  const { left, right, pupil } = simulateGaze({ ...plainViewer, seed });
  const cell = (value: number | undefined) => (value === undefined || Number.isNaN(value) ? null : thousandth(value));
  return {
    header: sampleHeader,
    rows: Array.from(left.times, (time, at) => [
      thousandth(time),
      ...[left.x, left.y, right.x, right.y, pupil.left, pupil.right].map((column) => cell(column[at])),
    ]),
  };
}
