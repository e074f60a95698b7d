import type { Plan } from "../compile/compile";
import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import { blocksInOrder } from "../design/lookup";
import { drawsIn } from "../pools/tasks";
import type { OwnRow } from "../values/draws";
import type { Pool } from "../values/pool";
import type { Id } from "../values/ref";
import type { Column } from "../values/table";
import type { PoolBalance } from "./counts";

type Counter = { add: (plan: Plan) => void; result: () => PoolBalance };

/** Counts which values are drawn from pools, block by block and column by column. */
export const poolCounters = (document: StudyDocument): Counter[] =>
  blocksInOrder(document).flatMap((block) =>
    drawsIn(block).flatMap(({ column, own }) => {
      const pool = document.pools.find(({ id }) => id === own.pool);
      return pool && own.takes.is === "value" ? [counterOf(block, column, own, pool, own.takes.column)] : [];
    }),
  );

/** Counts by the levels a draw goes by: those of its lists, or those that tell old from new. */
function counterOf(block: Block, column: Column, own: OwnRow, pool: Pool, taken: Id): Counter {
  const values = pool.table.rows.flatMap(({ copies, cells }) => (copies > 0 ? [String(cells[taken] ?? "")] : []));
  // Rows with the same value are told apart by nothing that is seen.
  const rowsOf = new Map<string, number>();
  for (const value of values) rowsOf.set(value, (rowsOf.get(value) ?? 0) + 1);
  const shown = own.before?.shown;
  const by = own.balanced ?? (typeof shown === "object" ? shown.column : undefined);
  const level = block.table.columns.find(({ id }) => id === by);
  const uses = new Map<string, Map<string, number>>();
  let empty = 0;
  const add = (plan: Plan) => {
    const part = plan.parts.find((each) => each.part === block.id);
    for (const { values: row } of part?.kind === "block" ? part.trials : []) {
      const value = row[column.id] ?? null;
      if (value === null) empty++;
      else {
        const name = level ? String(row[level.id] ?? "") : "";
        const counts = uses.get(name) ?? new Map<string, number>();
        uses.set(name, counts.set(String(value), (counts.get(String(value)) ?? 0) + 1));
      }
    }
  };
  const result = (): PoolBalance => {
    const levels = [...uses]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([name, counts]) => {
        const perRow = [...rowsOf].map(([value, rows]) => (counts.get(value) ?? 0) / rows);
        return { name, least: Math.min(...perRow), most: Math.max(...perRow) };
      });
    const said = levels.map((each) =>
      level ? `${often(each)} with ${level.name} ${each.name || "empty"}` : often(each),
    );
    return {
      ...{ block: block.id, column: column.id, name: `${block.name}, ${column.name}`, levels, empty },
      sentences: [
        `Each of the ${values.length} rows of “${pool.name}” was ${said.length > 0 ? `drawn ${said.join(", ")}` : "never drawn"}.`,
        ...(empty > 0 ? [`${empty} ${empty === 1 ? "trial was" : "trials were"} left without a row.`] : []),
      ],
    };
  };
  return { add, result };
}

const times = (count: number): string => (count === 1 ? "once" : `${Number(count.toFixed(1))} times`);
const often = ({ least, most }: { least: number; most: number }): string =>
  least === most ? times(least) : `${Number(least.toFixed(1))} to ${times(most)}`;
