import Papa from "papaparse";
import type { ShownTable } from "../core/export/tables/table";
import { areaMeasures, elsewhere, transitions, type Area, type Outline } from "../core/gaze/areas";
import { defaultEvents, eventsIn, eventsInWords, type EventSettings, type GazeEvents } from "../core/gaze/events";
import { lostShare, meanOfEyes, samplingRate, type Gaze } from "../core/gaze/samples";
import { Plain } from "./arguments";

/** Below so many samples a second velocities say little. */
const fewSamples = 200;
const thousandth = (value: number) => Math.round(value * 1000) / 1000;
const numberIn = (cell: string | undefined) => (cell === undefined || cell.trim() === "" ? NaN : Number(cell));

type Line = Record<string, string>;
const linesOf = (text: string) => Papa.parse<Line>(text.trim(), { header: true, skipEmptyLines: true });

/** The gaze of one session; its name is null in a table of one alone. */
type Recording = { session: string | null; gaze: Gaze };

/**
 * Samples out of a table with a column `time_ms` and either `x_deg` and `y_deg` or those of a `left_` and a `right_` eye; of several
 * sessions where it has a column `session`, whose lines stand together.
 */
function recordingsIn(text: string): Recording[] {
  const { data, meta } = linesOf(text);
  const names = new Set(meta.fields);
  if (!names.has("time_ms") || data.length === 0)
    throw new Plain("The table needs a line of headers with time_ms, and a line for each sample.");
  const isOneEye = names.has("x_deg") && names.has("y_deg");
  if (!isOneEye && !(names.has("left_x_deg") && names.has("right_x_deg")))
    throw new Plain(
      "The table needs x_deg and y_deg, or left_x_deg, left_y_deg, right_x_deg and right_y_deg: degrees of visual angle.",
    );
  const recordings: Recording[] = [];
  for (let from = 0; from < data.length;) {
    const session = data[from]?.["session"] ?? null;
    let to = from;
    while (to < data.length && (data[to]?.["session"] ?? null) === session) to++;
    const lines = data.slice(from, to);
    const column = (name: string) => Float64Array.from(lines, (line) => numberIn(line[name]));
    const times = column("time_ms");
    const wrong = times.findIndex((time, at) => Number.isNaN(time) || time < (times[at - 1] ?? -Infinity));
    if (wrong >= 0)
      throw new Plain(
        `Line ${from + wrong + 2}: time_ms is no number, or before that of the line above. Put samples in their order.`,
      );
    const eye = (which: string): Gaze => ({ times, x: column(`${which}x_deg`), y: column(`${which}y_deg`) });
    recordings.push({
      session,
      gaze: isOneEye ? eye("") : meanOfEyes({ left: eye("left_"), right: eye("right_") }),
    });
    from = to;
  }
  return recordings;
}

function settingsBy(by: string): EventSettings {
  if (by !== "velocity" && by !== "dispersion") throw new Plain("--by is velocity or dispersion.");
  return { ...defaultEvents, by };
}

/** With each recording what was found in it. */
function foundIn(text: string, settings: EventSettings): (Recording & { events: GazeEvents })[] {
  return recordingsIn(text).map((each) => ({ ...each, events: eventsIn(each.gaze, settings) }));
}

/** Rows of each recording below one another, with its name before them where there are several. */
function together(
  found: readonly Recording[],
  header: string[],
  rowsOf: (index: number) => (string | number | null)[][],
): ShownTable {
  const isNamed = found.some(({ session }) => session !== null);
  return {
    header: isNamed ? ["session", ...header] : header,
    rows: found.flatMap(({ session }, index) =>
      rowsOf(index).map((row) => {
        const cells = row.map((cell) => (typeof cell === "number" ? thousandth(cell) : cell));
        return isNamed ? [session, ...cells] : cells;
      }),
    ),
  };
}

/** The fixations and saccades of a table of samples, and what is to be said of them. */
export function gazeEvents(text: string, by: string = defaultEvents.by): { table: ShownTable; words: string[] } {
  const settings = settingsBy(by);
  const found = foundIn(text, settings);
  const header = ["event", "from_ms", "to_ms", "lasted_ms", "x_deg", "y_deg", "amplitude_deg", "peak_deg_per_s"];
  const table = together(found, header, (index) => {
    const { fixations = [], saccades = [] } = found[index]?.events ?? {};
    return [
      ...fixations.map(({ from, to, x, y }) => ["fixation", from, to, to - from, x, y, null, null] as const),
      ...saccades.map(
        ({ from, to, amplitude, peak }) => ["saccade", from, to, to - from, null, null, amplitude, peak] as const,
      ),
    ]
      .sort((a, b) => a[1] - b[1])
      .map((row) => [...row]);
  });
  const sum = (of: (each: (typeof found)[number]) => number) => found.reduce((total, each) => total + of(each), 0);
  const samples = sum(({ gaze }) => gaze.times.length);
  const lost = sum(({ gaze }) => lostShare(gaze) * gaze.times.length) / samples;
  const rates = found.map(({ gaze }) => samplingRate(gaze));
  const slowest = Math.min(...rates);
  return {
    table,
    words: [
      `${sum(({ events }) => events.fixations.length)} fixations, ${sum(({ events }) => events.saccades.length)} saccades in ${samples.toLocaleString("en")} samples${found.length > 1 ? ` of ${found.length} sessions` : ""}, ${Math.round(slowest)} a second, ${(lost * 100).toFixed(1)} % lost.`,
      `${eventsInWords(settings)}.`,
      ...(by === "velocity" && slowest < fewSamples
        ? [
            `With fewer than ${fewSamples} samples a second velocities are coarse: hold the fixations against --by dispersion.`,
          ]
        : []),
    ],
  };
}

/**
 * Areas of interest out of a table: `name`, `kind` (rectangle, ellipse or polygon), for the first two `x`, `y` (the middle), `w` and
 * `h`, for a polygon `points` such as `0 0; 4 0; 0 4`; in degrees from the middle of the stage, to the right and upwards.
 */
function areasIn(text: string): Area[] {
  const { data } = linesOf(text);
  const areas = data.map((line, index): Area => {
    const wrong = (what: string) => new Plain(`Areas, line ${index + 2}: ${what}`);
    const name = line["name"]?.trim() ?? "";
    if (name === "" || name === elsewhere) throw wrong(`it needs a name, and another than “${elsewhere}”.`);
    const outline = outlineOf(line);
    if (typeof outline === "string") throw wrong(outline);
    return { name, outline };
  });
  if (areas.length === 0)
    throw new Plain("The table of areas needs a line for each: name, kind, x, y, w, h or points.");
  const names = areas.map(({ name }) => name);
  const twice = names.find((name, index) => names.indexOf(name) !== index);
  if (twice !== undefined) throw new Plain(`The area “${twice}” is there twice: give each a name of its own.`);
  return areas;
}

/** The outline in a line; a sentence where it is none. */
function outlineOf(line: Line): Outline | string {
  const kind = line["kind"]?.trim();
  if (kind === "polygon") {
    const points = (line["points"] ?? "").split(";").map((pair) => pair.trim().split(/\s+/).map(Number));
    if (points.length < 3 || points.some((pair) => pair.length !== 2 || pair.some(Number.isNaN)))
      return "a polygon needs three points or more, such as 0 0; 4 0; 0 4.";
    return { kind, points: points.map(([x = 0, y = 0]) => ({ x, y })) };
  }
  if (kind !== "rectangle" && kind !== "ellipse") return "kind is rectangle, ellipse or polygon.";
  const [x, y, w, h] = ["x", "y", "w", "h"].map((name) => numberIn(line[name]));
  if ([x, y, w, h].some((value) => value === undefined || Number.isNaN(value)) || !((w ?? 0) > 0 && (h ?? 0) > 0))
    return "x, y, w and h are numbers, and w and h above 0.";
  return { kind, x: x ?? 0, y: y ?? 0, w: w ?? 1, h: h ?? 1 };
}

/** What was looked at of each area, and what after it: a line for each area of each session, and one for what lies in none. */
export function gazeAreas(
  text: string,
  areasText: string,
  by: string = defaultEvents.by,
): { table: ShownTable; words: string[] } {
  const settings = settingsBy(by);
  const areas = areasIn(areasText);
  const found = foundIn(text, settings);
  const names = [...areas.map(({ name }) => name), elsewhere];
  const header = [
    ...["area", "first_look_ms", "first_fixation_ms", "dwell_ms", "fixations", "visits", "share"],
    ...names.map((name) => `then_${name}`),
  ];
  const table = together(found, header, (index) => {
    const each = found[index];
    if (!each) return [];
    const { fixations } = each.events;
    const then = transitions(areas, fixations);
    return areaMeasures(areas, fixations, each.gaze.times[0] ?? 0).map((of, row) => [
      ...[of.area, of.firstLook, of.firstFixation, of.dwell, of.fixations, of.visits, of.share],
      ...(then[row] ?? []),
    ]);
  });
  return { table, words: [`${eventsInWords(settings)}.`] };
}
