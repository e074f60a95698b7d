import type { Block, StudyDocument } from "./types";

/** The built-in names a binding can use, with the type of their value and what they mean. */
export const builtInNames = {
  "participant.number": { type: "number", means: "number of this participant in the study" },
  "participant.group": { type: "text", means: "name of this participant's group" },
  "session.trials_done": { type: "number", means: "trials finished so far in the session" },
  "session.accuracy": { type: "number", means: "share of right answers so far in the session, 0 to 1" },
  "block.right_answers": { type: "number", means: "right answers so far in this block" },
  "block.trials_done": { type: "number", means: "trials finished so far in this block" },
  "block.accuracy": { type: "number", means: "share of right answers so far in this block, 0 to 1" },
  "block.mean_rt_ms": { type: "number", means: "mean reaction time of right answers so far in this block" },
  "last.answer": { type: "text", means: "the latest answer" },
  "last.right": { type: "yes-no", means: "whether the latest answer was right; no value when there was none" },
  "last.rt_ms": { type: "number", means: "reaction time of the latest answer" },
  "last.outcome": { type: "text", means: "right, wrong, none, too early, too late or answered, for the latest answer" },
} as const satisfies Record<string, { type: string; means: string }>;

export type BuiltInName = keyof typeof builtInNames;
export const isBuiltInName = (name: string): name is BuiltInName => Object.hasOwn(builtInNames, name);

const families = ["participant", "session", "block", "last"];
/** Columns every record has; a name of one's own would hide them in the export. */
const recordColumns = [
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
];
const shape = /^\p{L}[\p{L}\p{N}_]*$/u;

/**
 * Says what is wrong with a name meant for bindings, or null when it can be used.
 * Takes the name as typed and the names already used in its reach (without its own).
 */
export function nameProblem(name: string, taken: Iterable<string>): string | null {
  if (name === "") return "A name is needed.";
  if (name.length > 40) return "A name has at most 40 characters.";
  if (!shape.test(name)) return "A name starts with a letter and has only letters, digits and underscores.";
  if (families.includes(name))
    return `“${name}” is a family of built-in names. Choose another, for example “my_${name}”.`;
  if (recordColumns.includes(name) || /_((onset|lasted|planned|began|ended|offset)_ms|frames)$/.test(name))
    return `“${name}” is a column every record has already. Choose another, for example “my_${name}”.`;
  for (const other of taken)
    if (other.toLowerCase() === name.toLowerCase()) return `“${other}” is used already. Each name is used once.`;
  return null;
}

/** Names that a column of this block must differ from: its other columns, group values and variables. */
export function namesInReach(document: StudyDocument, block: Block | null, without: string | null): string[] {
  return [...(block?.table.columns ?? []), ...document.groupValues, ...document.variables]
    .filter((named) => named.id !== without)
    .map((named) => named.name);
}

/** Names a group value or variable must differ from: all others, and the columns of every block. */
export function namesEverywhere(document: StudyDocument, without: string | null): string[] {
  const columns = Object.values(document.parts).flatMap((part) => (part.kind === "block" ? part.table.columns : []));
  return [...columns, ...document.groupValues, ...document.variables]
    .filter((named) => named.id !== without)
    .map((named) => named.name);
}

/** First of `stem`, `stem_2`, `stem_3` … that is free. */
export function freeName(stem: string, taken: Iterable<string>): string {
  const used = new Set([...taken].map((name) => name.toLowerCase()));
  if (!used.has(stem.toLowerCase())) return stem;
  for (let count = 2; ; count++) if (!used.has(`${stem}_${count}`.toLowerCase())) return `${stem}_${count}`;
}

/** Like `freeName` for titles of parts, scenes and items, where blanks are allowed: `Block`, `Block 2` … */
export function freeTitle(stem: string, taken: Iterable<string>): string {
  const used = new Set([...taken].map((name) => name.toLowerCase()));
  if (!used.has(stem.toLowerCase())) return stem;
  for (let count = 2; ; count++) if (!used.has(`${stem} ${count}`.toLowerCase())) return `${stem} ${count}`;
}

/** A scene's or answer's name as it stands in column names: lower case, blanks and signs as underscores. */
export const columnStem = (name: string): string =>
  name
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, "_")
    .replace(/^_+|_+$/g, "") || "scene";
