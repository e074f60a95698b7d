import { cellAsText } from "../../design/cells";
import type { Block } from "../../design/block";
import type { StudyDocument } from "../../design/document";
import type { TrialRecord } from "../../records/record";
import type { Cell, DataColumn } from "../../values/data-column";
import type { Context } from "../../values/context";
import { columnStem } from "../../values/names";
import type { Id } from "../../values/ref";
import { rowValues, type Row } from "../../values/table";

/** What a trial's record does not say itself. `release` is the number of the frozen version it was played on. */
export type SessionFacts = {
  study: string;
  release: number;
  wave: string;
  session: string;
  participant: number;
  group: Id;
  pilot: boolean;
};
/** One row of the trials table: a record, with the block of the document it was played on. */
export type TrialSource = { facts: SessionFacts; record: TrialRecord; block: Block; document: StudyDocument };
export type TrialColumn = DataColumn<TrialSource>;

/** Up to thirty values, as the codebook lists them. */
export const joined = (values: Iterable<string>): string => [...new Set(values)].slice(0, 30).join(", ");

/** What every record of a block needs, worked out once per block: a document is never changed in place. */
type BlockIndex = {
  rows: Map<Id, { number: number; row: Row }>;
  sceneByStem: Map<string, Id>;
  values: Map<string, Context["values"]>;
  cells: Map<string, Map<string, Cell>>;
};
const indexes = new WeakMap<Block, BlockIndex>();

export function indexOf(block: Block): BlockIndex {
  const known = indexes.get(block);
  if (known) return known;
  const made: BlockIndex = {
    rows: new Map(block.table.rows.map((row, index) => [row.id, { number: index + 1, row }])),
    sceneByStem: new Map(block.scenes.map(({ id, name }) => [columnStem(name), id])),
    values: new Map(),
    cells: new Map(),
  };
  indexes.set(block, made);
  return made;
}

/** The entry of a map under a key; made the first time. */
function keptUnder<Value>(map: Map<string, Value>, key: string, make: () => Value): Value {
  const known = map.get(key);
  if (known !== undefined) return known;
  const made = make();
  map.set(key, made);
  return made;
}

const rowAndGroup = ({ record, facts }: TrialSource) => `${record.row} ${facts.group}`;

/** The values of the table's row behind a record, by column id, as its group had them; none where the row is gone. */
export function valuesOf(source: TrialSource): Context["values"] {
  const { block, record, facts, document } = source;
  const { rows, values } = indexOf(block);
  return keptUnder(values, rowAndGroup(source), () => {
    const row = rows.get(record.row)?.row;
    return row ? rowValues(document, block.table, row, facts.group) : {};
  });
}

/** The same as cells by column name, as they are exported. */
export function cellsOf(source: TrialSource): Map<string, Cell> {
  const { block, document } = source;
  return keptUnder(indexOf(block).cells, rowAndGroup(source), () => {
    const values = valuesOf(source);
    return new Map(
      block.table.columns.map((each): [string, Cell] => {
        const value = values[each.id] ?? null;
        return [each.name, value === null || typeof value === "number" ? value : cellAsText(document, each, value)];
      }),
    );
  });
}
