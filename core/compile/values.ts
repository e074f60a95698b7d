import {
  isBinding,
  type Binding,
  type Block,
  type Case,
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
  const { cases } = column;
  if (!cases) return row.cells[column.id] ?? null;
  const sources = cases.by.map((id) => row.cells[id] ?? null);
  const found = cases.when.find((each) => caseHolds(each, sources));
  const gives = found ? found.gives : cases.otherwise;
  return isBinding(gives) ? groupValueOf(document, gives, group) : gives;
}

/** Whether a case holds for these values of its source columns. Values are compared as texts; an empty one equals only an empty one. */
export function caseHolds({ is }: Case, sources: (Scalar | null)[]): boolean {
  const alike = (a: Scalar | null, b: Scalar | null) => String(a ?? "") === String(b ?? "");
  if (is === "same") return sources.every((each) => alike(each, sources[0] ?? null));
  if (is === "different") return sources.some((each) => !alike(each, sources[0] ?? null));
  return is.every((value, index) => alike(value, sources[index] ?? null));
}

/** The group value a binding names, for one group; null when it is gone. */
export function groupValueOf(document: StudyDocument, binding: Binding, group: Id): Scalar | null {
  if (!("groupValue" in binding.from)) return null;
  const id = binding.from.groupValue;
  return document.groupValues.find((value) => value.id === id)?.perGroup[group] ?? null;
}
