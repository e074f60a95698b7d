import Papa from "papaparse";
import type { Block } from "../design/block";
import type { GivenSequence } from "../design/trial-order";
import type { Row } from "../values/table";

/** What a file of sequences says about one block, and everything in it that does not match, with line numbers. */
export type ReadSequences = { sequences: GivenSequence[]; problems: string[]; notes: string[] };

/**
 * Reads sequences of a block's trials from CSV text with a header. Columns, by name: `row` (the row's number in the table,
 * from 1) must be there; `participant` for sequences of their own (without it the file holds one for all); `trial`, to
 * check that none is missing or twice; `part`, of which only lines with the block's name are taken. Other columns that
 * the table has too are compared with it. Nothing is taken while there are problems.
 */
export function readSequences(
  text: string,
  block: Block,
  valueOf: (row: Row, column: string) => string,
): ReadSequences {
  const problems: string[] = [];
  const notes: string[] = [];
  const { data, meta } = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, "").trim(), {
    header: true,
    skipEmptyLines: "greedy",
    transformHeader: (name) => name.trim().toLowerCase(),
  });
  const fields = meta.fields ?? [];
  if (!fields.includes("row"))
    return {
      sequences: [],
      problems: ["The file has no column “row” with the number of each trial's row in the table."],
      notes,
    };
  const { columns, rows } = block.table;
  const compared = columns.filter(({ name }) => fields.includes(name.toLowerCase()));
  const hasPart = fields.includes("part");
  const byParticipant = new Map<number | null, { rows: string[]; trials: { trial: number; line: number }[] }>();
  let skipped = 0;
  data.forEach((entry, index) => {
    const line = index + 2;
    if (hasPart && (entry.part ?? "").trim().toLowerCase() !== block.name.toLowerCase()) {
      skipped++;
      return;
    }
    const participant = fields.includes("participant") ? wholeNumber(entry.participant) : null;
    if (fields.includes("participant") && participant === null) {
      problems.push(`Line ${line}: “${entry.participant ?? ""}” is not a participant's number.`);
      return;
    }
    const number = wholeNumber(entry.row);
    const row = number === null ? undefined : rows[number - 1];
    if (!row) {
      problems.push(
        `Line ${line}: there is no row “${(entry.row ?? "").trim()}”; the table has rows 1 to ${rows.length}.`,
      );
      return;
    }
    for (const column of compared) {
      const [said, known] = [(entry[column.name.toLowerCase()] ?? "").trim(), valueOf(row, column.id)];
      if (said !== known)
        problems.push(`Line ${line}: ${column.name} is “${said}”, but row ${number} of the table has “${known}”.`);
    }
    const own = byParticipant.get(participant) ?? { rows: [], trials: [] };
    byParticipant.set(participant, own);
    own.rows.push(row.id);
    if (fields.includes("trial")) {
      const trial = wholeNumber(entry.trial);
      if (trial === null) problems.push(`Line ${line}: “${entry.trial ?? ""}” is not a trial's number.`);
      else own.trials.push({ trial, line });
    }
  });
  for (const [participant, { trials }] of byParticipant) {
    const whose = participant === null ? "" : `participant ${participant}, `;
    trials.forEach(({ trial, line }, index) => {
      const before = trials[index - 1];
      if (!before || trial === before.trial + 1) return;
      problems.push(
        trials.slice(0, index).some((each) => each.trial === trial)
          ? `Line ${line}: ${whose}trial ${trial} appears twice.`
          : `Line ${line}: ${whose}trial ${trial} follows trial ${before.trial}.`,
      );
    });
  }
  const numbers = [...byParticipant.keys()].flatMap((each) => each ?? []).sort((a, b) => a - b);
  const missing = numbers.flatMap((each, index) => {
    const before = index === 0 ? 0 : (numbers[index - 1] as number);
    return each === before + 1 ? [] : [each === before + 2 ? `${before + 1}` : `${before + 1} to ${each - 1}`];
  });
  if (missing.length > 0) notes.push(`There is no sequence for participant ${missing.join(", ")}.`);
  if (skipped > 0) notes.push(`${skipped} lines are of other parts.`);
  if (byParticipant.size === 0 && problems.length === 0)
    problems.push(
      hasPart ? `No line has “${block.name}” in its column “part”.` : "The file has no lines after its header.",
    );
  for (const row of uneven(byParticipant, rows)) notes.push(row);
  const sequences = [...byParticipant].map(([participant, own]): GivenSequence => ({ participant, rows: own.rows }));
  return { sequences: problems.length > 0 ? [] : sequences, problems, notes };
}

const wholeNumber = (text: string | undefined): number | null =>
  /^\s*\d+\s*$/.test(text ?? "") && Number(text) > 0 ? Number(text) : null;

/** Rows that are not used as often as their copies say, told once. */
function uneven(sequences: ReadonlyMap<number | null, { rows: string[] }>, rows: readonly Row[]): string[] {
  const counts = new Map<string, number>();
  for (const { rows: own } of sequences.values()) for (const id of own) counts.set(id, (counts.get(id) ?? 0) + 1);
  const never = rows.flatMap(({ id, copies }, index) => (copies > 0 && !counts.has(id) ? [index + 1] : []));
  const shares = rows.flatMap(({ id, copies }) =>
    copies > 0 && counts.has(id) ? [(counts.get(id) as number) / copies] : [],
  );
  const notes =
    never.length > 0
      ? [
          `${never.length === 1 ? "Row" : "Rows"} ${never.slice(0, 12).join(", ")}${never.length > 12 ? " and more" : ""} never come.`,
        ]
      : [];
  if (shares.length > 1 && Math.max(...shares) > Math.min(...shares))
    notes.push("Rows are not used equally often for their copies.");
  return notes;
}
