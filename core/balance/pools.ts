import type { Plan } from "../compile/compile";
import { blocksInOrder } from "../design/lookup";
import type { StudyDocument } from "../design/document";
import { drawsIn } from "../pools/tasks";
import type { PoolBalance } from "./counts";

/** Counts which values are drawn from pools, block by block and column by column. */
export function poolCounters(document: StudyDocument) {
  return blocksInOrder(document).flatMap((block) =>
    drawsIn(block).flatMap(({ column, own }) => {
      const pool = document.pools.find(({ id }) => id === own.pool);
      if (!pool || own.takes.is !== "value") return [];
      const taken = own.takes.column;
      const values = pool.table.rows.flatMap(({ copies, cells }) => (copies > 0 ? [String(cells[taken] ?? "")] : []));
      // Rows with the same value are told apart by nothing that is seen.
      const share = new Map<string, number>();
      for (const value of values) share.set(value, (share.get(value) ?? 0) + 1);
      const uses = new Map<string, Map<string, number>>();
      let empty = 0;
      const shown = own.before?.shown;
      const by = own.balanced ?? (typeof shown === "object" ? shown.column : undefined);
      const level = by === undefined ? undefined : block.table.columns.find(({ id }) => id === by);
      const counts = (name: string) => {
        const found = uses.get(name) ?? new Map<string, number>();
        uses.set(name, found);
        return found;
      };
      return [
        {
          add: (plan: Plan) => {
            const part = plan.parts.find((each) => each.part === block.id);
            for (const { values: row } of part?.kind === "block" ? part.trials : []) {
              const value = row[column.id] ?? null;
              if (value === null) empty++;
              else {
                const often = counts(level ? String(row[level.id] ?? "") : "");
                often.set(String(value), (often.get(String(value)) ?? 0) + 1);
              }
            }
          },
          result: (): PoolBalance => {
            const levels = [...uses]
              .sort(([a], [b]) => (a < b ? -1 : 1))
              .map(([name, often]) => {
                const perRow = [...share].map(([value, rows]) => (often.get(value) ?? 0) / rows);
                return { name, least: Math.min(...perRow), most: Math.max(...perRow) };
              });
            return {
              block: block.id,
              column: column.id,
              name: `${block.name}, ${column.name}`,
              levels,
              empty,
              sentences: sentencesOf(levels, values.length, pool.name, level?.name, empty),
            };
          },
        },
      ];
    }),
  );
}

const times = (count: number): string => (count === 1 ? "once" : `${Number(count.toFixed(1))} times`);
const often = ({ least, most }: { least: number; most: number }): string =>
  least === most ? times(least) : `${Number(least.toFixed(1))} to ${times(most)}`;

function sentencesOf(
  levels: PoolBalance["levels"],
  rows: number,
  pool: string,
  level: string | undefined,
  empty: number,
): string[] {
  const uses = levels.map((each) =>
    level === undefined ? often(each) : `${often(each)} with ${level} ${each.name || "empty"}`,
  );
  return [
    `Each of the ${rows} rows of “${pool}” was drawn ${uses.join(", ")}.`,
    ...(empty > 0 ? [`${empty} ${empty === 1 ? "trial was" : "trials were"} left without a row.`] : []),
  ];
}
