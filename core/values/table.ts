import { valueAsDesigned } from "../adaptive/range";
import { adaptive } from "../adaptive/specs";
import { list, object, record } from "../shape/compound";
import { oneOf, text, whole, yesNo } from "../shape/plain";
import { choosing, nullable, optional, type Of, type Shape } from "../shape/shape";
import { draws } from "./draws";
import { letters, replacedLetters } from "./letters";
import { nameShape } from "./names";
import { bindable, id, isBinding, scalar, type Binding, type Id, type Scalar } from "./ref";
import type { StudyValues } from "./study-values";

const columnType = oneOf("text", "number", "image", "sound", "video", "color", "yes-no");
export type ColumnType = Of<typeof columnType>;

const sourceValues = list(nullable(scalar), 1, 6);
const alike = oneOf("same", "different");
/** A case holds when every source column has its value, or when two source columns are the same or differ. */
const caseOf = object({
  is: choosing<(Scalar | null)[] | Of<typeof alike>>((value) => (typeof value === "string" ? alike : sourceValues)),
  gives: bindable(scalar),
});
export type Case = Of<typeof caseOf>;

/** A column whose cells follow from others of the same table by a small table of cases; the first that holds counts. */
const cases = object({ by: list(id, 1, 6), when: list(caseOf), otherwise: nullable(bindable(scalar)) });
export type Cases = Of<typeof cases>;

const follows = object({
  by: adaptive,
  /** Each level of this column is followed by itself. */
  each: optional(id),
  /** The variable that holds the threshold from the end of the block on. */
  keeps: optional(id),
});
/** How a column's value follows the answers, instead of standing in the table. */
export type Follows = Of<typeof follows>;

const columnFields = object({
  id,
  name: nameShape,
  type: columnType,
  factor: yesNo,
  cases: optional(cases),
  letters: optional(letters),
  follows: optional(follows),
  draws: optional(draws),
});
export interface Column extends Of<typeof columnFields> {}
const column: Shape<Column> = columnFields;

const rowFields = object({
  id,
  /** How often the row is used in a pass. */
  copies: whole(0, 10_000),
  cells: record(nullable(scalar)),
  note: optional(text({ most: 20_000 })),
});
export interface Row extends Of<typeof rowFields> {}
const row: Shape<Row> = rowFields;

/** A table has no more rows. */
export const mostRows = 20_000;
const trialTableFields = object({ columns: list(column, 0, 200), rows: list(row, 0, mostRows) });
export interface TrialTable extends Of<typeof trialTableFields> {}
export const trialTable: Shape<TrialTable> = trialTableFields;

/** A row's values by their columns; worked out once and shared, hence never written to. */
export type RowValues = Readonly<Record<Id, Scalar | null>>;

/** A row's value for every column, for a participant of the group. Filled columns are worked out, empty cells are null. */
export function rowValues(study: StudyValues, { columns }: TrialTable, row: Row, group: Id): RowValues {
  const known = knownValues.get(row);
  const current =
    known?.columns === columns && known.groupValues === study.groupValues
      ? known
      : { columns, groupValues: study.groupValues, byGroup: new Map<Id, RowValues>() };
  if (current !== known) knownValues.set(row, current);
  const found = current.byGroup.get(group);
  if (found) return found;
  const values: Record<Id, Scalar | null> = {};
  for (const column of columns) values[column.id] = cellValue(study, row, column, group);
  current.byGroup.set(group, values);
  return values;
}

type Known = {
  columns: readonly Column[];
  groupValues: StudyValues["groupValues"];
  byGroup: Map<Id, RowValues>;
};
/** What was worked out of a row: rows are never changed in place, and an edit leaves the thousands beside it as they are. */
const knownValues = new WeakMap<Row, Known>();

/** Whether a column's cells follow from others, from the answers or from a pool, so that nothing is typed into them. */
export const isFilled = ({
  cases,
  letters: made,
  follows: by,
  draws: drawn,
}: Pick<Column, "cases" | "letters" | "follows" | "draws">): boolean =>
  cases !== undefined || made !== undefined || by !== undefined || drawn !== undefined;

/** The columns a filled column is made of. */
export const sourcesOf = ({ cases, letters: made }: Pick<Column, "cases" | "letters">): readonly Id[] =>
  cases?.by ?? (made ? [made.from] : []);

/**
 * One cell's value: as typed, about that of the first trial where it follows the answers, or by its column's cases, or from
 * another's text. What is drawn from a pool stands with trials, not with rows: null.
 */
export function cellValue(
  study: StudyValues,
  row: Row,
  { id, cases, letters: made, follows: following, draws: drawn }: Column,
  group: Id,
): Scalar | null {
  if (drawn) return null;
  if (following) return valueAsDesigned(following.by);
  if (made) {
    const source = row.cells[made.from] ?? null;
    return source === null ? null : replacedLetters(String(source), made);
  }
  if (!cases) return row.cells[id] ?? null;
  const sources = cases.by.map((source) => row.cells[source] ?? null);
  const found = cases.when.find((each) => caseHolds(each, sources));
  const gives = found ? found.gives : cases.otherwise;
  return isBinding(gives) ? groupValueOf(study, gives, group) : gives;
}

/** Whether a case holds for these values of its source columns. Values are compared as texts; an empty one equals only an empty one. */
export function caseHolds({ is }: Case, sources: (Scalar | null)[]): boolean {
  const areAlike = (a: Scalar | null, b: Scalar | null) => String(a ?? "") === String(b ?? "");
  if (is === "same") return sources.every((each) => areAlike(each, sources[0] ?? null));
  if (is === "different") return sources.some((each) => !areAlike(each, sources[0] ?? null));
  return is.every((value, index) => areAlike(value, sources[index] ?? null));
}

/** The group value a binding names, for one group; null when it is gone. */
export function groupValueOf(study: Pick<StudyValues, "groupValues">, { from }: Binding, group: Id): Scalar | null {
  if (!("groupValue" in from)) return null;
  return study.groupValues.find(({ id }) => id === from.groupValue)?.perGroup[group] ?? null;
}
