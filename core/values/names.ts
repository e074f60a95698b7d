import { judged, type Shape } from "../shape/shape";
import { builtInFamilies } from "./built-ins";

/** Columns every record has; a name of one's own would hide them in the export. */
export const recordColumns = [
  "study",
  "release",
  "wave",
  "session",
  "participant",
  "group",
  "part",
  "pass",
  "trial",
  "row",
  "answer",
  "right",
  "rt_ms",
  "late_frames",
  "pilot",
  "outcome",
  "trial_interrupted",
  "left_out",
  "left_out_by",
] as const;
const isRecordColumn = (name: string) =>
  (recordColumns as readonly string[]).includes(name) ||
  /_((onset|lasted|planned|began|ended|offset)_ms|frames)$/.test(name);
/** Studies have had values called “device” since before there were built-in ones. */
const reserved = builtInFamilies.filter((family) => family !== "device");
const form = /^\p{L}[\p{L}\p{N}_]*$/u;

/**
 * Says what is wrong with a name meant for bindings, or null when it can be used.
 * Takes the name as typed, the names already used in its reach (without its own), and those of further columns of the
 * exported data.
 */
export function nameProblem(name: string, taken: Iterable<string>, exported: Iterable<string> = []): string | null {
  if (name === "") return "A name is needed.";
  if (name.length > 40) return "A name has at most 40 characters.";
  if (!form.test(name)) return "A name starts with a letter and has only letters, digits and underscores.";
  if (reserved.includes(name))
    return `“${name}” is a family of built-in names. Choose another, for example “my_${name}”.`;
  if (isRecordColumn(name))
    return `“${name}” is a column every record has already. Choose another, for example “my_${name}”.`;
  for (const other of taken)
    if (other.toLowerCase() === name.toLowerCase()) return `“${other}” is taken. Each name can be used only once.`;
  for (const other of exported)
    if (other.toLowerCase() === name.toLowerCase())
      return `“${other}” is a column of the exported data already. Choose another, for example “my_${name}”.`;
  return null;
}

/** A name that bindings can use. */
export const nameShape: Shape<string> = judged((value) => {
  if (value === "") return "is missing: type a name";
  if (typeof value !== "string") return "must be a text";
  const problem = nameProblem(value, []);
  return problem === null ? null : `is “${value}”. ${problem}`;
}, "is missing: type a name");

const firstFree = (stem: string, taken: Iterable<string>, joint: string): string => {
  const used = new Set([...taken].map((name) => name.toLowerCase()));
  if (!used.has(stem.toLowerCase())) return stem;
  for (let count = 2; ; count++)
    if (!used.has(`${stem}${joint}${count}`.toLowerCase())) return `${stem}${joint}${count}`;
};

/** First of `stem`, `stem_2`, `stem_3` … that is free. */
export const freeName = (stem: string, taken: Iterable<string>): string => firstFree(stem, taken, "_");

/** Like `freeName` for titles of parts, scenes and items, where blanks are allowed: `Block`, `Block 2` … */
export const freeTitle = (stem: string, taken: Iterable<string>): string => firstFree(stem, taken, " ");

/** The same in addresses: `means`, `means-2` … */
export const freeAddress = (stem: string, taken: Iterable<string>): string => firstFree(stem, taken, "-");

/** A scene's or answer's name as it stands in column names: lower case, blanks and signs as underscores. */
export const columnStem = (name: string): string =>
  name
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((word) => word !== "")
    .join("_") || "scene";
