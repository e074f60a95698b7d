import { cellAsText } from "../../design/cells";
import type { Block } from "../../design/block";
import type { StudyDocument } from "../../design/document";
import { trialsInBlock } from "../../design/lookup";
import { partsFor, type Orders } from "../../order/parts";
import type { TrialRecord } from "../../records/record";
import type { Beginning } from "../../run/state";
import type { Cell, DataColumn } from "../../values/data-column";
import type { Context } from "../../values/context";
import { columnStem } from "../../values/names";
import type { Id, Scalar } from "../../values/ref";
import { rowValues, type Column, type Row } from "../../values/table";
import type { Standing } from "./standing";

/** What a trial's record does not say itself. `release` is the number of the frozen version it was played on. */
export type SessionFacts = Standing & {
  study: string;
  release: number;
  wave: string;
  session: string;
  participant: number;
  /** Which of the participant's sittings it is, from 1. */
  sitting: number;
  /** Where the participant stands among all who began, if that is not the number. */
  entered?: number;
  /** How it began, where that is not as the study says. */
  begins?: Beginning;
  group: Id;
  orders: Orders;
  pilot: boolean;
};
/** What the columns of trial tables are read from: a row of a block's table, as a group has it. */
export type RowSource = {
  facts: Pick<SessionFacts, "group">;
  record: Pick<TrialRecord, "row" | "settled" | "fromPools">;
  block: Block;
  document: StudyDocument;
};
/** One row of the trials table: a record, with the block of the document it was played on. */
export type TrialSource = RowSource & {
  facts: SessionFacts;
  record: TrialRecord;
  /** Which attempt at the trial it is, from 1. */
  attempt: number;
};
export type TrialColumn = DataColumn<TrialSource>;

const mostListed = 30;
/** Different values, as the codebook lists them: up to thirty, and how many there are where that is not all. */
export function joined(values: Iterable<string>): string {
  const all = [...new Set(values)];
  const listed = all.slice(0, mostListed).join(", ");
  return all.length > mostListed ? `${listed}, … (${all.length} in all)` : listed;
}

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

const rowAndGroup = ({ record, facts }: RowSource) => `${record.row} ${facts.group}`;

/** The values of the table's row behind a record, as its group had them; none where the row is gone. */
function typedValues(source: RowSource): Context["values"] {
  const { block, record, facts, document } = source;
  const { rows, values } = indexOf(block);
  return keptUnder(values, rowAndGroup(source), () => {
    const row = rows.get(record.row)?.row;
    return row ? rowValues(document, block.table, row, facts.group) : {};
  });
}

/** The values of a record's trial, by column id: those of its row, and those drawn from pools. */
export const valuesOf = (source: RowSource): Context["values"] =>
  source.record.fromPools ? { ...typedValues(source), ...source.record.fromPools } : typedValues(source);

/** The same as cells by column id, as they are exported. */
export function cellsOf(source: RowSource): Map<string, Cell> {
  const { block, document, record } = source;
  const cellOf = (column: Column, value: Scalar | null): Cell =>
    value === null || typeof value === "number" ? value : cellAsText(document, column, value);
  const typed = keptUnder(indexOf(block).cells, rowAndGroup(source), () => {
    const values = typedValues(source);
    return new Map(block.table.columns.map((each) => [each.id, cellOf(each, values[each.id] ?? null)]));
  });
  const { fromPools } = record;
  if (!fromPools) return typed;
  const drawn = block.table.columns.filter(({ draws }) => draws !== undefined);
  return new Map([...typed, ...drawn.map((each) => [each.id, cellOf(each, fromPools[each.id] ?? null)] as const)]);
}

type Place = { place: number; trialsBefore: number };
const places = new WeakMap<SessionFacts, Map<Id, Place>>();

/** Where the record's block came among the parts of its session, and how many trials the parts before it have. */
export function placeOf({ facts, document, block }: TrialSource): Place | undefined {
  let known = places.get(facts);
  if (!known) {
    known = new Map<Id, Place>();
    let trialsBefore = 0;
    for (const [index, { part }] of partsFor(document, facts).entries()) {
      known.set(part, { place: index + 1, trialsBefore });
      const found = document.parts[part];
      if (found?.kind === "block") trialsBefore += trialsInBlock(found);
    }
    places.set(facts, known);
  }
  return known.get(block.id);
}
