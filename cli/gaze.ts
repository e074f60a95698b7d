import { createWriteStream } from "node:fs";
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import Papa from "papaparse";
import type { ShownTable } from "../core/export/tables/table";
import { defaultEvents, eventsIn, eventsInWords, type EventSettings } from "../core/gaze/events";
import { lostShare, meanOfEyes, samplingRate, type Gaze } from "../core/gaze/samples";
import { plainViewer, simulateGaze } from "../core/gaze/simulate";
import type { Store } from "../server/database/open";
import { frozenDocument } from "../server/frozen-documents";
import { gazeInDegrees } from "../server/gaze";
import { Plain } from "./arguments";
import { studyCalled, withStore } from "./store";

/** Below so many samples a second velocities say little. */
const fewSamples = 200;
const thousandth = (value: number) => Math.round(value * 1000) / 1000;
const numberIn = (cell: string | undefined) => (cell === undefined || cell.trim() === "" ? NaN : Number(cell));

/** Samples out of a table with a column `time_ms` and either `x_deg` and `y_deg` or those of a `left_` and a `right_` eye. */
function gazeIn(text: string): Gaze {
  const { data, meta } = Papa.parse<Record<string, string>>(text.trim(), { header: true, skipEmptyLines: true });
  const names = new Set(meta.fields);
  const column = (name: string) => Float64Array.from(data, (row) => numberIn(row[name]));
  const times = column("time_ms");
  if (!names.has("time_ms") || data.length === 0)
    throw new Plain("The table needs a line of headers with time_ms, and a line for each sample.");
  const wrong = times.findIndex((time, at) => Number.isNaN(time) || time < (times[at - 1] ?? -Infinity));
  if (wrong >= 0)
    throw new Plain(
      `Line ${wrong + 2}: time_ms is no number, or before that of the line above. Put samples in their order.`,
    );
  if (names.has("x_deg") && names.has("y_deg")) return { times, x: column("x_deg"), y: column("y_deg") };
  const eye = (which: string): Gaze => ({ times, x: column(`${which}_x_deg`), y: column(`${which}_y_deg`) });
  if (names.has("left_x_deg") && names.has("right_x_deg"))
    return meanOfEyes({ left: eye("left"), right: eye("right") });
  throw new Plain(
    "The table needs x_deg and y_deg, or left_x_deg, left_y_deg, right_x_deg and right_y_deg: degrees of visual angle.",
  );
}

/** The fixations and saccades of a table of samples, and what is to be said of them. */
export function gazeEvents(text: string, by: string = defaultEvents.by): { table: ShownTable; words: string[] } {
  if (by !== "velocity" && by !== "dispersion") throw new Plain("--by is velocity or dispersion.");
  const settings: EventSettings = { ...defaultEvents, by };
  const gaze = gazeIn(text);
  const { fixations, saccades } = eventsIn(gaze, settings);
  const rows = [
    ...fixations.map(({ from, to, x, y }) => ["fixation", from, to, to - from, x, y, null, null] as const),
    ...saccades.map(
      ({ from, to, amplitude, peak }) => ["saccade", from, to, to - from, null, null, amplitude, peak] as const,
    ),
  ].sort((a, b) => a[1] - b[1]);
  const rate = samplingRate(gaze);
  return {
    table: {
      header: ["event", "from_ms", "to_ms", "lasted_ms", "x_deg", "y_deg", "amplitude_deg", "peak_deg_per_s"],
      rows: rows.map((row) => row.map((cell) => (typeof cell === "number" ? thousandth(cell) : cell))),
    },
    words: [
      `${fixations.length} fixations, ${saccades.length} saccades in ${gaze.times.length.toLocaleString("en")} samples, ${Math.round(rate)} a second, ${(lostShare(gaze) * 100).toFixed(1)} % lost.`,
      `${eventsInWords(settings)}.`,
      ...(by === "velocity" && rate < fewSamples
        ? [
            `With fewer than ${fewSamples} samples a second velocities are coarse: hold the fixations against --by dispersion.`,
          ]
        : []),
    ],
  };
}

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
    for (const { time, left, right, distance } of await gazeInDegrees(store, id, settings.viewing))
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
