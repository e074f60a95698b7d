import type { Block } from "../design/block";
import type { Id } from "../values/ref";
import { rowValues } from "../values/table";
import type { Course } from "./state";

/** The level each row has, and all that there are among the rows that are played. */
export type Levels = { of: (row: Id) => string; all: readonly string[] };
/** All trials together. */
export const oneLevel: Levels = { of: () => "", all: [""] };

/** The levels of a column of a block, as the participant's group has them; one for all where no column is named. */
export function levelsOf(course: Course, block: Block, column: Id | undefined): Levels {
  if (column === undefined) return oneLevel;
  const ofCourse = known.get(course) ?? new Map<string, Levels>();
  known.set(course, ofCourse);
  const key = `${block.id} ${column}`;
  const found = ofCourse.get(key);
  if (found) return found;
  const valueIn = (row: Block["table"]["rows"][number]) =>
    String(rowValues(course.document, block.table, row, course.plan.group)[column] ?? "");
  const rows = new Map(block.table.rows.filter(({ copies }) => copies > 0).map((row) => [row.id, valueIn(row)]));
  const made: Levels = { of: (row) => rows.get(row) ?? "", all: [...new Set(rows.values())] };
  ofCourse.set(key, made);
  return made;
}
/** They are asked for after every trial, and the same throughout. */
const known = new WeakMap<Course, Map<string, Levels>>();
