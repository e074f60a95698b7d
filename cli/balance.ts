import type { Balance } from "../core/balance/counts";
import type { ShownTable } from "../core/export/tables/table";

/** The tables of “many at once” as one: what is counted, of what, where, how often. */
export function balanceTable(balance: Balance): ShownTable {
  const rows: ShownTable["rows"] = [];
  for (const { group, orders, planned } of balance.cells) rows.push(["cell", group, orders || null, null, planned]);
  for (const { things, at, after } of balance.brackets) {
    const all = things.join(" | ");
    at.forEach((line, thing) =>
      line.forEach((count, index) => rows.push(["part at place", all, things[thing] ?? "", String(index + 1), count])),
    );
    after.forEach((line, first) =>
      line.forEach((count, second) => {
        if (first !== second) rows.push(["part followed by", all, things[first] ?? "", things[second] ?? "", count]);
      }),
    );
  }
  for (const { name, levels } of balance.pools)
    for (const level of levels) {
      rows.push(["row of a pool drawn at least", name, level.name || null, null, level.least]);
      rows.push(["row of a pool drawn at most", name, level.name || null, null, level.most]);
    }
  for (const { name, perTenth, factors } of balance.blocks) {
    perTenth.forEach((line, row) =>
      line.forEach((count, bin) =>
        rows.push(["row in part of block", name, String(row + 1), `${bin + 1} of ${line.length}`, count]),
      ),
    );
    for (const { column, levels, runs, after } of factors) {
      runs.forEach((count, length) => rows.push(["runs of length", name, column, String(length + 1), count]));
      after.forEach((line, first) =>
        line.forEach((count, second) =>
          rows.push(["level followed by", `${name}, ${column}`, levels[first] ?? "", levels[second] ?? "", count]),
        ),
      );
    }
  }
  return { header: ["counted", "of", "what", "where", "count"], rows };
}

/** Plain sentences on whether the design is balanced, one a line. */
export const balanceInWords = ({ cellsSentence, brackets, blocks, pools }: Balance): string[] => [
  cellsSentence,
  ...pools.flatMap(({ name, sentences }) => sentences.map((sentence) => `${name}: ${sentence}`)),
  ...brackets.map(({ things, sentence }) => `${things.join(", ")}: ${sentence}`),
  ...blocks.flatMap(({ name, sentences }) => sentences.map((sentence) => `${name}: ${sentence}`)),
];
