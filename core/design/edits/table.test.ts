import { describe, expect, it } from "vitest";
import { drawing, drawn, own } from "~/tests/support/pools";
import { firstBlock, plainStudy } from "~/tests/support/studies";
import { usesIn } from "../../values/uses";
import { parseStudy } from "../parse";
import { applyEdit, together } from "./edit";
import type { StudyDocument } from "../document";
import { removeColumn, setCells, setColumn, setColumnType, setDraws } from "./table";

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

  it("let a column draw, hold what it draws, and take along what drew with it when it stands in the table again", () => {
    const study = drawing({}, (drawer) =>
      drawer.table.columns.push(
        drawn("seen", own()),
        drawn("length", { with: "seen", takes: { is: "value", column: "length" } }, "number"),
      ),
    );
    const of = (document: StudyDocument, name: string) =>
      firstBlock(document).table.columns.find((column) => column.name === name);
    const length = setDraws("boats", "seen", own({ takes: { is: "value", column: "length" } }));
    expect(of(applyEdit(study, length).document, "seen")?.type).toBe("number");
    const texts = applyEdit(study, setColumnType("creatures", "length", "text")).document;
    expect(of(texts, "length")?.type).toBe("text");
    for (const edit of [setDraws("boats", "seen", undefined), removeColumn("boats", "seen")]) {
      const { document } = applyEdit(study, edit);
      expect(of(document, "length")?.draws).toBeUndefined();
      expect(parseStudy(document).ok).toBe(true);
    }
    const kinds = setDraws("boats", "kind", own());
    expect(firstBlock(applyEdit(study, kinds).document).table.rows.every(({ cells }) => cells["kind"] === null)).toBe(
      true,
    );
  });

  it("remove a column with its cells", () => {
    const { document } = applyEdit(plainStudy(), removeColumn(block.id, word!.id));
    expect(firstBlock(document).table.rows.every(({ cells }) => !(word!.id in cells))).toBe(true);
  });
});
