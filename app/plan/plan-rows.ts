import type { Edit } from "~/core/design/edits/edit";
import { moveNode, setLine } from "~/core/design/edits/running-order";
import { nodeKey } from "~/core/design/lookup";
import { possibleLines } from "~/core/order/opening";
import type { Id } from "~/core/values/ref";
import type { Part, StudyDocument } from "~/core/design/document";
import type { RunningNode } from "~/core/design/running-order";

export type BracketNode = Extract<RunningNode, { kind: "bracket" }>;
/** A row of the running order: its part, the brackets it stands in (outermost first), and which of these it begins or ends. */
export type PlanRow = {
  part: Part;
  node: Extract<RunningNode, { kind: "part" }>;
  brackets: { bracket: BracketNode; begins: boolean; ends: boolean }[];
};

export function planRows(document: StudyDocument): PlanRow[] {
  const rows: PlanRow[] = [];
  const walk = (nodes: readonly RunningNode[], brackets: BracketNode[]) => {
    for (const node of nodes) {
      if (node.kind === "bracket") {
        const first = rows.length;
        walk(node.nodes, [...brackets, node]);
        const mark = (row: PlanRow | undefined, edge: "begins" | "ends") => {
          const own = row?.brackets.find(({ bracket }) => bracket.id === node.id);
          if (own) own[edge] = true;
        };
        if (rows.length > first) {
          mark(rows[first], "begins");
          mark(rows.at(-1), "ends");
        }
      } else {
        const part = document.parts[node.part];
        if (part)
          rows.push({ part, node, brackets: brackets.map((bracket) => ({ bracket, begins: false, ends: false })) });
      }
    }
  };
  walk(document.runningOrder, []);
  return rows;
}

/** The lines, from 1, of the first and last part of a bracket. */
export function bracketExtent(rows: readonly PlanRow[], id: Id): { from: number; to: number } {
  const positions = rows.flatMap(({ brackets }, index) =>
    brackets.some(({ bracket }) => bracket.id === id) ? [index + 1] : [],
  );
  return { from: positions[0] ?? 0, to: positions.at(-1) ?? 0 };
}

/** The parts from one to another as the table lists them, both included. */
export function partsBetween(rows: readonly PlanRow[], one: Id, other: Id): Id[] {
  const positions = [one, other].map((id) => rows.findIndex(({ part }) => part.id === id)).sort((a, b) => a - b);
  const [from, to] = positions as [number, number];
  return from < 0 ? [] : rows.slice(from, to + 1).map(({ part }) => part.id);
}

/** Where a part dropped on another one goes: before it when it came from below, behind it when from above. */
function dropTarget(
  nodes: readonly RunningNode[],
  rows: readonly PlanRow[],
  moved: Id,
  over: Id,
): { before: Id | null; parent: Id | null } | null {
  const [from, to] = [moved, over].map((id) => rows.findIndex(({ part }) => part.id === id)) as [number, number];
  const parent = rows[to]?.brackets.at(-1)?.bracket ?? null;
  if (from < 0 || to < 0) return null;
  const siblings = parent?.nodes ?? nodes;
  if (to < from) return { before: over, parent: parent?.id ?? null };
  const next = siblings[siblings.findIndex((node) => nodeKey(node) === over) + 1];
  return { before: next ? nodeKey(next) : null, parent: parent?.id ?? null };
}

/** What the line where places are given is called among the parts. */
export const lineKey = "line";

/** The keys of the rows with the line among them. */
export function withLine(rows: readonly PlanRow[], after: Id | undefined): string[] {
  const keys = rows.map(({ part }) => part.id);
  return keys.toSpliced(after === undefined ? 0 : keys.indexOf(after) + 1, 0, lineKey);
}

/** The edit that a drop makes: a part, or the line, takes the place of another one. */
export function dropped(document: StudyDocument, rows: readonly PlanRow[], moved: string, over: string): Edit | null {
  const { after } = document.allocation;
  const keys = withLine(rows, after);
  const [from, to] = [keys.indexOf(moved), keys.indexOf(over)];
  if (from < 0 || to < 0 || from === to) return null;
  const ordered = keys.toSpliced(from, 1).toSpliced(to, 0, moved);
  const possible = possibleLines(document).map(({ part }) => part);
  if (moved === lineKey) {
    // Below anything else than pages for all it cannot go: it stops there.
    const above = ordered.slice(0, ordered.indexOf(lineKey));
    return setLine(above.findLast((key, index) => possible[index] === key));
  }
  if (over !== lineKey) {
    const target = dropTarget(document.runningOrder, rows, moved, over);
    return target && moveNode(moved, target.before, target.parent);
  }
  // Across the line: the part stands beside it then, on its other side.
  const above = ordered.slice(0, ordered.indexOf(lineKey));
  const next = document.runningOrder.map(nodeKey).find((key) => key !== moved && !above.includes(key));
  return (draft) => {
    moveNode(moved, next ?? null, null)(draft);
    setLine(above.at(-1))(draft);
  };
}

/** Names as short as they can be told apart: first letters where that is enough, else the first letters and a number. */
export function shortNames(names: readonly string[]): string[] {
  const initials = names.map((name) => (/[\p{L}\p{N}]/u.exec(name)?.[0] ?? "?").toUpperCase());
  return initials.map((letter, index) =>
    initials.filter((each) => each === letter).length === 1
      ? letter
      : `${letter}${initials.slice(0, index + 1).filter((each) => each === letter).length}`,
  );
}
