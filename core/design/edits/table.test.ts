import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy } from "~/tests/support/studies";
import { usesIn } from "../../values/uses";
import { parseStudy } from "../parse";
import { applyEdit, together } from "./edit";
import { removeColumn, setCells, setColumn, setColumnType } from "./table";

const block = firstBlock(plainStudy());
const [word, key] = block.table.columns;
const [row] = block.table.rows;

describe("edits of a table", () => {
  it("rename a column and every use follows, since uses are by id", () => {
    const { document } = applyEdit(plainStudy(), setColumn(block.id, key!.id, { name: "wanted" }));
    const uses = usesIn(firstBlock(document)).filter(({ ref }) => "column" in ref && ref.column === key!.id);
    expect(uses).toHaveLength(1);
    expect(parseStudy(document).ok).toBe(true);
  });

  it("read cells anew when a column's type changes, and keep what does not fit", () => {
    const numbers = applyEdit(
      plainStudy(),
      together(
        setCells(block.id, [{ row: row!.id, column: word!.id, value: "2,5" }]),
        setColumnType(block.id, word!.id, "number"),
      ),
    ).document;
    expect(firstBlock(numbers).table.rows.map(({ cells }) => cells[word!.id])).toEqual([2.5, "ferry"]);
  });

  it("remove a column with its cells", () => {
    const { document } = applyEdit(plainStudy(), removeColumn(block.id, word!.id));
    expect(firstBlock(document).table.rows.every(({ cells }) => !(word!.id in cells))).toBe(true);
  });
});
