import type { StudyDocument } from "../../core/design/document";
import { blocksInOrder } from "../../core/design/lookup";
import { partLabel } from "../../core/design/part-labels";
import { tableColumnsOf } from "../../core/export/tables/trials";
import { coded, type Column } from "../../core/tidy/column";
import type { DataReader } from "../export/reader";

export type Comparable = {
  name: string;
  isFactor: boolean;
  /** Whether this is what the draft calls it now. */
  isNow: (name: string) => boolean;
  /** The column of the trials table that holds it. */
  exported: string;
  /** Its levels in the order of the design. */
  levels: () => string[];
};

const never = () => false;

const known = new WeakMap<DataReader, Comparable[]>();
/** Worked out once for the question and its answer. */
export function comparableColumns(reader: DataReader): Comparable[] {
  const columns = known.get(reader) ?? comparablesOf(reader);
  known.set(reader, columns);
  return columns;
}

/** Columns by which results can be compared: the trial tables' as they are exported, factors first, then the part, the release and the group. */
function comparablesOf({ documents, releases, study }: DataReader): Comparable[] {
  const numbers = new Map(releases.map(({ document, number }) => [document, String(number)]));
  return [
    ...tableColumnsOf(documents)
      .filter(({ isFollowing }) => !isFollowing)
      .map(({ name, isFactor, holds, levels }): Comparable => ({
        name,
        isFactor,
        isNow: (asked) =>
          blocksInOrder(study.document).some(({ id, table }) =>
            table.columns.some((column) => column.name === asked && holds(id, column.id)),
          ),
        exported: name,
        levels,
      }))
      .sort((a, b) => Number(b.isFactor) - Number(a.isFactor)),
    {
      name: "part",
      isFactor: false,
      isNow: never,
      exported: "part",
      levels: () => documents.flatMap((document) => blocksInOrder(document).map(({ id }) => partLabel(document, id))),
    },
    {
      name: "release",
      isFactor: false,
      isNow: never,
      exported: "release",
      levels: () => [...numbers.values()].toReversed(),
    },
    {
      name: "group",
      isFactor: false,
      isNow: never,
      exported: "group_name",
      levels: () => documents.flatMap(({ groups }) => groups.map(({ name }) => name)),
    },
  ];
}

/** What the columns by which results can be compared are called in the table of trials. */
export const comparableNames = (documents: readonly StudyDocument[]): string[] => [
  ...tableColumnsOf(documents)
    .filter(({ isFollowing }) => !isFollowing)
    .map(({ name }) => name),
  ...["part", "release", "group_name"],
];

/** The same with the levels they have in the design. */
export const availableLevels = (reader: DataReader): { column: string; levels: string[] }[] =>
  comparableColumns(reader).map((column) => ({ column: column.name, levels: [...new Set(column.levels())] }));

/** What rows hold, as levels are told apart. */
export function levelled(column: Column): { codes: Uint32Array; levels: string[] } {
  const { codes, cells } = coded(column);
  return { codes, levels: cells.map((cell) => String(cell ?? "")) };
}

/** Levels in the order in which they stand in the design; others after them by name. */
export const inDesignOrder = (column: Comparable | undefined, seen: ReadonlySet<string>): string[] => [
  ...new Set([...(column?.levels() ?? []).filter((level) => seen.has(level)), ...[...seen].sort()]),
];
