import {
  isBinding,
  type Binding,
  type Block,
  type Column,
  type Id,
  type Row,
  type Scalar,
  type StudyDocument,
} from "../design/types";

/** A row's value for every column, for a participant of the group. Filled columns are worked out, empty cells are null. */
export function rowValues(document: StudyDocument, block: Block, row: Row, group: Id): Record<Id, Scalar | null> {
  const values: Record<Id, Scalar | null> = {};
  for (const column of block.table.columns) values[column.id] = cellValue(document, row, column, group);
  return values;
}

/** One cell's value: as typed, or by its column's cases. */
export function cellValue(document: StudyDocument, row: Row, column: Column, group: Id): Scalar | null {
  if (!column.cases) return row.cells[column.id] ?? null;
  const source = row.cells[column.cases.by] ?? null;
  const found = column.cases.when.find(({ value }) => String(value) === String(source ?? ""));
  const gives = found ? found.gives : column.cases.otherwise;
  return isBinding(gives) ? groupValueOf(document, gives, group) : gives;
}

/** The group value a binding names, for one group; null when it is gone. */
export function groupValueOf(document: StudyDocument, binding: Binding, group: Id): Scalar | null {
  if (!("groupValue" in binding.from)) return null;
  const id = binding.from.groupValue;
  return document.groupValues.find((value) => value.id === id)?.perGroup[group] ?? null;
}
