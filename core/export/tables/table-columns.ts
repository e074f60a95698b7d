import { drawnValues, poolOf } from "../../design/drawn-levels";
import type { Block } from "../../design/block";
import { cellAsText } from "../../design/cells";
import type { StudyDocument } from "../../design/document";
import { blocksInOrder } from "../../design/lookup";
import { dataColumn, type Cell, type DataColumn } from "../../values/data-column";
import { distinctHeaders } from "../../values/header-names";
import type { Id, Scalar } from "../../values/ref";
import { rowValues, type Column } from "../../values/table";
import { cellsOf, joined, type RowSource, type TrialColumn } from "./trial-source";

/** A value that the study's author named: which name it has where, newest release first. */
type Sameness<Value> = { name: string; of: Value[] };

/**
 * Puts together what is the same: what has the same id in every release, whatever it was called there, and what has the
 * same name, but never two things of one owner. `all` are lists, one a release, newest first; names are those of the newest
 * release that has them.
 */
export function sameAcross<Value extends { id: string; name: string; owner: object }>(
  all: readonly Value[][],
): Sameness<Value>[] {
  const found: Sameness<Value>[] = [];
  const byId = new Map<string, Sameness<Value>>();
  for (const values of all) {
    /** Those that this release has, first: they are looked through before the others. */
    const here: Sameness<Value>[] = [];
    // Those known from a newer release first: they keep their column, and others of their old name join them.
    for (const value of [...values].sort((a, b) => Number(byId.has(b.id)) - Number(byId.has(a.id)))) {
      const name = value.name.toLowerCase();
      const isFree = ({ of }: Sameness<Value>) => of.every(({ owner }) => owner !== value.owner);
      const known =
        byId.get(value.id) ??
        [...here, ...found].find((each) => isFree(each) && each.of.some((one) => one.name.toLowerCase() === name));
      const same = known ?? { name: value.name, of: [] };
      if (!known) found.push(same);
      same.of.push(value);
      byId.set(value.id, same);
      here.push(same);
    }
  }
  return found;
}

type Placed = { id: string; name: string; owner: Block; document: StudyDocument; block: Block; column: Column };
const keyOf = (block: Id, column: Id) => `${block} ${column}`;

/** A column of the trial tables in the export, with what Results need of it. */
export type TableColumn = DataColumn<RowSource> & {
  isFactor: boolean;
  /** Whether its values followed the answers. */
  isFollowing: boolean;
  /** Its values in the order in which they stand in the newest release that has it. */
  levels: () => string[];
  /** Whether it holds this column of this block. */
  holds: (block: Id, column: Id) => boolean;
};

/**
 * The columns of the trial tables: one for each id, in whatever releases, and for columns of one name in several blocks.
 * `taken` are the names of the export's other columns.
 */
export function tableColumns(documents: readonly StudyDocument[], taken: readonly string[]): TableColumn[] {
  const same = sameAcross(
    documents.map((document) =>
      blocksInOrder(document).flatMap((block) =>
        block.table.columns.map((column): Placed => ({
          id: keyOf(block.id, column.id),
          name: column.name,
          owner: block,
          document,
          block,
          column,
        })),
      ),
    ),
  );
  const names = distinctHeaders(
    same.map(({ name }) => name),
    taken,
  );
  return same.map(({ name, of }, index) => {
    const isFactor = of.some(({ column }) => column.factor);
    const levels = (having: readonly Placed[]) => [
      ...new Set(
        having.flatMap(({ document, block, column }) => {
          // What follows the answers has no levels that are known before.
          if (column.follows) return [];
          if (column.draws)
            return drawnValues(document, block, column).map((value) => cellAsText(document, column, value));
          return document.groups.flatMap(({ id }) =>
            block.table.rows.map((row) =>
              cellAsText(document, column, rowValues(document, block.table, row, id)[column.id] ?? null),
            ),
          );
        }),
      ),
    ];
    const ids = new Set(of.map(({ id }) => id));
    const columnIn = new Map(of.map(({ block, column }) => [block, column.id]));
    const before = [...new Set(of.map(({ column }) => column.name))].filter((each) => each !== name);
    return {
      ...dataColumn(
        names[index] ?? name,
        of.every(({ column }) => column.type === "number") ? "number" : "text",
        `${isFactor ? "Factor" : "Column"} of the trial table` +
          (of.some(({ column }) => column.follows) ? "; followed the answers" : "") +
          drawnInWords(of) +
          (names[index] === name ? "" : `, there called “${name}”`) +
          (before.length > 0 ? `; before: ${before.map((each) => `“${each}”`).join(", ")}` : ""),
        (source): Cell => {
          const id = columnIn.get(source.block);
          const settled = id === undefined ? undefined : source.record.settled?.[id];
          if (settled !== undefined) return settled;
          return id === undefined ? null : (cellsOf(source).get(id) ?? null);
        },
        { values: joined(levels(of).filter(Boolean)) },
      ),
      isFactor,
      isFollowing: of.some(({ column }) => column.follows),
      levels: () => levels(of.filter(({ document }) => document === of[0]?.document)),
      holds: (block, column) => ids.has(keyOf(block, column)),
    };
  });
}

/** Which pools a column's values were drawn from. */
function drawnInWords(of: readonly Placed[]): string {
  const pools = of.flatMap(({ document, block, column }) => poolOf(document, block, column)?.name ?? []);
  return pools.length === 0 ? "" : `; drawn from ${[...new Set(pools)].map((name) => `“${name}”`).join(", ")}`;
}

/** The values that groups have of their own, one column each. */
export function groupValueColumns(documents: readonly StudyDocument[], taken: readonly string[]): TrialColumn[] {
  const same = sameAcross(
    documents.map((document) =>
      document.groupValues.map(({ id, name, perGroup }) => ({ id, name, owner: document, document, perGroup })),
    ),
  );
  const names = distinctHeaders(
    same.map(({ name }) => name),
    taken,
  );
  return same.map(({ name, of }, index) => {
    const ofDocument = new Map(of.map(({ document, perGroup }) => [document, perGroup]));
    const all = of.flatMap(({ perGroup }) => Object.values(perGroup)).filter((value) => value !== null);
    return dataColumn(
      names[index] ?? name,
      all.length > 0 && all.every((value) => typeof value === "number") ? "number" : "text",
      "Value of the participant's group" + (names[index] === name ? "" : `, there called “${name}”`),
      ({ document, facts }) => asCell(ofDocument.get(document)?.[facts.group] ?? null),
      { values: joined(all.map(String)) },
    );
  });
}

const asCell = (value: Scalar | null): Cell => (typeof value === "boolean" ? (value ? "yes" : "no") : value);
