import type { QuestionOf } from "../questions/registry";
import { plainText } from "../values/formatted-text";
import { freeName } from "../values/names";
import type { NewId } from "../values/ref";

export type ListedQuestions = {
  questions: QuestionOf<"one-of">[];
  /** What could not be taken, with its line. */
  problems: string[];
};

const isHead = (row: readonly string[]) => /^(question|item)s?$/i.test(row[0]?.trim() ?? "");
type Columns = { options: number[]; right: number; points: number };

/** Which column holds what: by its head where there is one, else all but the first are options. */
function columnsOf(head: readonly string[] | null, width: number): Columns {
  const others = Array.from({ length: Math.max(0, width - 1) }, (_, at) => at + 1);
  if (!head) return { options: others, right: -1, points: -1 };
  const find = (name: RegExp) => head.findIndex((cell) => name.test(cell.trim()));
  const right = find(/^(right|correct|solution)/i);
  const points = find(/^points?$/i);
  return { options: others.filter((at) => at !== right && at !== points), right, points };
}

/**
 * Questions with one answer of several out of a list: a row each, with the question, its options, and where there is a head
 * also the right option and its points. Options may stand in one cell, separated by semicolons; one marked with `*` is right.
 */
export function questionsFromList(
  rows: readonly (readonly string[])[],
  newId: NewId,
  taken: readonly string[],
  stem = "item",
): ListedQuestions {
  const head = rows[0] && isHead(rows[0]) ? rows[0] : null;
  const body = head ? rows.slice(1) : rows;
  const width = Math.max(0, ...rows.map(({ length }) => length));
  const columns = columnsOf(head, width);
  const names = [...taken];
  const problems: string[] = [];
  const questions = body.flatMap((row, index): QuestionOf<"one-of">[] => {
    const line = index + (head ? 2 : 1);
    const text = row[0]?.trim() ?? "";
    const cells = columns.options.map((at) => row[at]?.trim() ?? "").filter(Boolean);
    if (text === "" && cells.length === 0) return [];
    if (text === "") {
      problems.push(`Line ${line} has no question.`);
      return [];
    }
    const labels = (cells.length === 1 ? (cells[0] ?? "").split(";") : cells)
      .map((cell) => cell.trim())
      .filter(Boolean);
    if (labels.length < 2) {
      problems.push(`Line ${line} (“${text.slice(0, 40)}”) has fewer than two options.`);
      return [];
    }
    const said = (columns.right < 0 ? "" : (row[columns.right] ?? "")).trim();
    const wanted = (label: string, at: number) =>
      label.startsWith("*") || (said !== "" && (label.toLowerCase() === said.toLowerCase() || said === String(at + 1)));
    if (said !== "" && !labels.some(wanted))
      problems.push(`Line ${line}: “${said}” is none of its options; the question has no right answer.`);
    const points = Number((columns.points < 0 ? "" : (row[columns.points] ?? "")).trim().replace(",", ".") || NaN);
    const name = freeName(`${stem}_${questionNumber(names, stem)}`, names);
    names.push(name);
    return [
      {
        kind: "one-of",
        id: newId("question"),
        name,
        text: plainText(text),
        explanation: "",
        need: "reminder",
        ratherNot: false,
        options: labels.map((label, at) => ({
          id: newId("option"),
          label: label.replace(/^\*\s*/, "").slice(0, 500) || "?",
          ...(wanted(label, at) ? { right: true as const, ...(Number.isFinite(points) ? { points } : {}) } : {}),
        })),
        order: "listed",
        layout: "list",
      },
    ];
  });
  return { questions, problems };
}

/** The first number that no name of this stem has. */
function questionNumber(names: readonly string[], stem: string): number {
  const used = new Set(names.map((name) => name.toLowerCase()));
  for (let number = 1; ; number++) if (!used.has(`${stem}_${number}`)) return number;
}
