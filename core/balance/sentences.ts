import { shareOf } from "../allocate/scheme";
import type { Block } from "../design/block";
import type { Id } from "../values/ref";
import type { StudyDocument } from "../design/document";
import { chanceOfUnevenness } from "./by-chance";
import type { CellBalance, FactorBalance, PassCounts } from "./counts";

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

/** Chance alone leads to a warning in one of so many blocks. */
const oneFalseAlarmIn = 1000;

/** Whether rows are used equally often and, where chance alone orders them, come early and late alike. */
export function rowsSentence(
  block: Block,
  uses: ReadonlyMap<Id, number>,
  perTenth: number[][],
  inPass: PassCounts | null,
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
  if (!inPass) return [used, ...spreadSentence(perTenth)];
  const chance = chanceOfUnevenness(inPass);
  if (chance === null) return [used];
  return [
    used,
    chance >= 1 / oneFalseAlarmIn
      ? "Early and late in a pass each row comes as evenly as chance gives."
      : `Some rows come more often early or late in a pass than chance gives: so uneven an order comes by chance less than once in ${oneFalseAlarmIn.toLocaleString("en")} times.`,
  ];
}

/** How far an order that does not follow from chance alone is from even, early and late. */
function spreadSentence(perTenth: number[][]): string[] {
  const bins = perTenth[0]?.length ?? 1;
  if (bins < 2) return [];
  const sizes = Array.from({ length: bins }, (_, bin) => perTenth.reduce((sum, line) => sum + (line[bin] ?? 0), 0));
  const all = sizes.reduce((sum, each) => sum + each, 0);
  const off = perTenth.flatMap((line) => {
    const own = line.reduce((sum, each) => sum + each, 0);
    return line.map((each, bin) => {
      const expected = (own * (sizes[bin] ?? 0)) / Math.max(1, all);
      return expected > 0 ? Math.abs(each - expected) / expected : 0;
    });
  });
  return [
    `As it is arranged, a row comes in a tenth of the block at most ${Math.round(100 * Math.max(...off, 0))} % more or less often than evenly.`,
  ];
}

/** How long runs of a factor are, and how near its levels follow each other to what a draw by chance gives on average. */
export function transitionsSentence({ column, levels, runs, after, expected }: FactorBalance): string[] {
  if (levels.length < 2 || after.flat().every((each) => each === 0)) return [];
  const off = after.flatMap((line, first) =>
    line.flatMap((each, second) => {
      const mean = expected[first]?.[second] ?? 0;
      return mean > 0 ? [Math.abs(each - mean) / mean] : [];
    }),
  );
  return [
    `The longest run of ${column} is ${runs.length}; its levels follow each other within ${Math.round(100 * Math.max(...off, 0))} % of what a plain shuffle gives on average.`,
  ];
}
