import { shareOf } from "../allocate/scheme";
import type { Block } from "../design/block";
import type { Id } from "../values/ref";
import type { StudyDocument } from "../design/document";
import type { CellBalance, FactorBalance } from "./counts";

const range = (counts: readonly number[]) => ({ least: Math.min(...counts), most: Math.max(...counts) });
const times = (count: number) => (count === 1 ? "once" : count === 2 ? "twice" : `${count} times`);
const fromTo = ({ least, most }: { least: number; most: number }) =>
  least === most ? times(least) : `${least} to ${most} times`;

/** Whether the cells are filled evenly, each in proportion to its group's share. */
export function cellsSentence(cells: readonly CellBalance[], { groups }: StudyDocument): string {
  if (cells.length < 2) return "Everyone is in the same cell.";
  const { least, most } = range(cells.map(({ planned }) => planned));
  const isShared = new Set(groups.map(shareOf)).size > 1;
  if (isShared) {
    const sizes = groups.map((group) => ({
      name: group.name,
      share: shareOf(group),
      size: cells.reduce((sum, cell) => sum + (cell.group === group.name ? cell.planned : 0), 0),
    }));
    return `Groups have ${sizes.map(({ name, size, share }) => `${size} in ${name} (share ${share})`).join(", ")}.`;
  }
  if (least === most) return `All ${cells.length} cells have ${least} participants.`;
  return most - least === 1
    ? `The ${cells.length} cells have ${least} or ${most} participants: as even as this number allows.`
    : `The ${cells.length} cells have from ${least} to ${most} participants, so they are not filled evenly.`;
}

/** Whether the parts of a bracket come equally often in each position, and follow each other equally often. */
export function positionsSentence(at: number[][], after: number[][], taken: number): string {
  const size = at.length;
  if (size < 2) return "There is only one part.";
  const atPositions = range(at.flatMap((line) => line.slice(0, Math.min(size, taken))));
  const follows = range(after.flatMap((line, first) => line.filter((_, second) => second !== first)));
  const placed =
    atPositions.least === atPositions.most
      ? `Each part comes ${times(atPositions.least)} in each position.`
      : `A part comes from ${fromTo(atPositions)} in a position, which is off by ${atPositions.most - atPositions.least}.`;
  const followed =
    follows.least === follows.most
      ? ` Each follows each other one ${times(follows.least)}.`
      : ` One follows another from ${fromTo(follows)}: ${follows.least === 0 ? "who precedes whom is not balanced" : "nearly balanced"}.`;
  return placed + followed;
}

/**
 * Whether rows are used equally often and come early and late alike. The latter by Pearson's chi-square of each row's
 * counts over the bins against equal ones, as its root mean square over the rows in units of what chance gives.
 */
export function rowsSentence(
  block: Block,
  uses: ReadonlyMap<Id, number>,
  perTenth: number[][],
  players: number,
): string[] {
  if (players === 0) return ["None of these participants plays this block."];
  const perCopy = block.table.rows.flatMap(({ id, copies }) => (copies > 0 ? [(uses.get(id) ?? 0) / copies] : []));
  if (perCopy.length === 0) return ["No row is used."];
  const { least, most } = range(perCopy);
  const used =
    least === most
      ? `Each row is used equally often, ${times(least)} for each of its copies.`
      : `Rows are used from ${Math.round(least)} to ${Math.round(most)} times for each copy.`;
  if (block.order.method === "as-listed" || block.order.method === "given") return [used];
  const bins = perTenth[0]?.length ?? 1;
  const spread = perTenth.flatMap((line) => {
    const expected = line.reduce((sum, each) => sum + each, 0) / bins;
    return expected > 0
      ? [line.reduce((sum, each) => sum + (each - expected) ** 2 / expected, 0) / Math.max(1, bins - 1)]
      : [];
  });
  const mean = spread.reduce((sum, each) => sum + each, 0) / Math.max(1, spread.length);
  // Over all rows the mean of chi-square by its degrees of freedom is about 1 ± √(2 / (rows × freedom)).
  const allowed = 1 + 4 * Math.sqrt(2 / Math.max(1, spread.length * (bins - 1)));
  return [
    used,
    bins < 2 || mean <= allowed
      ? "Early and late in the block each row comes as evenly as chance gives."
      : `Some rows come more often early or late than chance gives (${mean.toFixed(1)} times the spread of an even draw).`,
  ];
}

/** How long runs of a factor are, and whether its levels follow each other as their numbers say. */
export function transitionsSentence({ column, levels, runs, after }: FactorBalance): string[] {
  if (levels.length < 2) return [];
  const total = after.flat().reduce((sum, each) => sum + each, 0);
  if (total === 0) return [];
  const from = after.map((line) => line.reduce((sum, each) => sum + each, 0));
  const to = levels.map((_, second) => after.reduce((sum, line) => sum + (line[second] ?? 0), 0));
  const off = Math.max(
    ...after.flatMap((line, first) =>
      line.map((each, second) => {
        const expected = ((from[first] ?? 0) * (to[second] ?? 0)) / total;
        return expected > 0 ? Math.abs(each - expected) / expected : 0;
      }),
    ),
  );
  return [
    `The longest run of ${column} is ${runs.length}; its levels follow each other within ${Math.round(100 * off)} % of what their numbers alone would give.`,
  ];
}
