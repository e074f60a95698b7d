import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { newImageItem } from "../items/image/image";
import { newItem } from "../items/item";
import type { StudyDocument } from "../design/document";
import { hasErrors, preflight } from "./preflight";
import { newKeys } from "../devices/keys/keys";

const errors = (document: StudyDocument) =>
  preflight(document)
    .filter(({ level }) => level === "error")
    .map(({ where, message }) => `${where}: ${message}`);
const after = (change: Parameters<typeof withBlock>[1]) => errors(withBlock(plainStudy(), change)).join("\n");

describe("preflight", () => {
  it("finds nothing to mend in a new study", () =>
    expect(preflight(plainStudy()).filter(({ level }) => level !== "note")).toEqual([]));

  it.each<[string, Parameters<typeof withBlock>[1], RegExp]>([
    [
      "a column that is gone",
      (block) => void block.table.columns.shift(),
      /item “word”.*uses a column that has been removed/,
    ],
    [
      "a group value that is gone",
      (block) => void (block.answers[0]!.right = { from: { groupValue: "gone" } }),
      /group value that has been removed/,
    ],
    [
      "a column used on a page",
      (_, d) => {
        const page = d.parts["page-1"];
        if (page?.kind === "page") page.body.push({ as: "paragraph", runs: [{ ref: { column: "column-2" } }] });
      },
      /page “Welcome”.*a page has no trial table/,
    ],
    ["an empty table", (block) => void (block.table.rows = []), /trial table is empty/],
    ["rows without copies", (block) => block.table.rows.forEach((row) => (row.copies = 0)), /0 copies/],
    [
      "a right answer that cannot be given",
      (block) => void (block.table.rows[1]!.cells["column-3"] = "m"),
      /Row 2 expects “m”, which is not among the allowed keys/,
    ],
    [
      "several such rows",
      (block) => block.table.rows.forEach((row) => (row.cells["column-3"] = "m")),
      /Rows 1 and 2 expect “m”/,
    ],
    ["no keys at all", (block) => void (block.answers[0]!.by = [newKeys([])]), /No key is allowed/],
    ["no way to answer", (block) => void (block.answers[0]!.by = []), /There is no way to give it/],
    [
      "a scene that never ends",
      (block) => {
        block.scenes[0]!.lasts = { kind: "until-answer" };
      },
      /scene 1 “fixation”: It waits for an answer, but no answer window covers it/,
    ],
    [
      "a scene that waits where answers stay",
      (block) => {
        block.scenes[1]!.lasts = { kind: "until-answer" };
        block.answers[0]!.onAnswer = "stay";
      },
      /would never end/,
    ],
    [
      "a window that opens after it closes",
      (block) => {
        block.answers[0]!.opensWith = block.scenes[1]!.id;
        block.answers[0]!.closesWith = block.scenes[0]!.id;
      },
      /opens with “target” but closes with “fixation”, which comes earlier/,
    ],
    [
      "a picture that is missing",
      (block) => void block.scenes[1]!.items.push(newImageItem(() => "i", "bird", "gone")),
      /item “bird”: Its picture “gone” is missing/,
    ],
    [
      "a picture not chosen yet",
      (block) => void block.scenes[1]!.items.push(newImageItem(() => "i", "bird", "")),
      /no picture yet/,
    ],
    [
      "a picture missing in one row",
      (block) => {
        block.table.columns.push({ id: "c", name: "bird", type: "image", factor: false });
        block.table.rows[1]!.cells["c"] = "gone";
        block.scenes[1]!.items.push(newImageItem(() => "i", "bird", ""));
        (block.scenes[1]!.items[1] as { picture: unknown }).picture = { from: { column: "c" } };
      },
      /In row 1 its picture is an empty cell/,
    ],
    [
      "a duration that is a word",
      (block) => void (block.scenes[0]!.lasts = { kind: "ms", ms: { from: { column: "column-2" } } }),
      /In row 1 its duration is “gull”/,
    ],
    [
      "a number that is none",
      (block) => {
        block.table.columns[0]!.type = "number";
      },
      /column “word”.*“gull” is not a number. \(and 1 more row\)/,
    ],
    [
      "a bracket that should take more than it has",
      (_, d) =>
        void (d.runningOrder = [{ kind: "bracket", id: "b", arrange: "shuffled", take: 9, nodes: d.runningOrder }]),
      /9 parts should be taken, but there are 3/,
    ],
    [
      "a limit that the table cannot satisfy, with the reason",
      (block) => {
        block.table.rows[0]!.copies = 12;
        block.table.rows[1]!.copies = 4;
        block.order.limits.push({ kind: "longest-run", columns: ["column-2"], most: 2 });
      },
      /12 of 16 trials have word “gull”: with at most 2 in a row at least 5 others are needed between them, there are 4/,
    ],
    [
      "limits that exclude each other, by counting all orders",
      (block) => {
        for (const row of block.table.rows) row.copies = 3;
        block.order.limits.push(
          { kind: "longest-run", columns: ["column-2"], most: 1 },
          { kind: "edge-trials", at: "first", column: "column-2", only: ["gull"], count: 1 },
          { kind: "edge-trials", at: "last", column: "column-2", only: ["gull"], count: 1 },
        );
      },
      /No order of these 6 trials has .* together. All were counted/,
    ],
    [
      "a condition of a part on a group value that is gone",
      (_, d) => {
        const [node] = d.runningOrder;
        if (node?.kind === "part") node.when = { left: { from: { groupValue: "gone" } }, is: "=", right: "x" };
      },
      /“Welcome”, played only if: It uses a group value that has been removed/,
    ],
    [
      "a limit on a column that is gone",
      (block) => void block.order.limits.push({ kind: "longest-run", columns: ["column-99"], most: 2 }),
      /names a column that the table no longer has/,
    ],
    [
      "no parts",
      (_, d) => {
        d.runningOrder = [];
        d.parts = {};
      },
      /no parts/,
    ],
  ])("finds %s", (_, change, message) => expect(after(change)).toMatch(message));

  it("warns of rows without a right answer but lets them be played", () => {
    const findings = preflight(
      withBlock(plainStudy(), (block) => void (block.table.rows[0]!.cells["column-3"] = null)),
    );
    expect(hasErrors(findings)).toBe(false);
    expect(findings.find(({ level }) => level === "warning")?.message).toMatch(/Row 1 has no right answer/);
  });

  it("asks for an address of a web page, and warns that it needs the network", () => {
    const web = (address: string | { from: { column: string } }) =>
      withBlock(plainStudy(), (block) => {
        const item = newItem(() => "i", "web", "dial");
        if (item.kind === "web") item.page = { from: "address", address };
        block.scenes[1]!.items.push(item);
      });
    expect(errors(web("")).join()).toMatch(/no page yet/);
    expect(errors(web("javascript:alert(1)")).join()).toMatch(/no address of a web page/);
    expect(errors(web({ from: { column: "column-2" } })).join()).toMatch(/In row 1 its address is no address/);
    expect(errors(web("https://dial.example/turn"))).toEqual([]);
    expect(preflight(web("https://dial.example/turn")).map(({ message }) => message)).toContainEqual(
      expect.stringMatching(/needs the network in the middle of a session/),
    );
  });

  it("tells what one cell does wrong once, however many items use it", () => {
    const document = withBlock(plainStudy(), (block) => {
      block.table.columns.push({ id: "c", name: "bird", type: "image", factor: false });
      block.table.rows.forEach((row) => (row.cells["c"] = "gone"));
      for (const id of ["i", "j", "k"])
        block.scenes[1]!.items.push({ ...newImageItem(() => id, id, ""), picture: { from: { column: "c" } } });
    });
    expect(errors(document)).toEqual([
      "block “Block 1”, row 1, column “bird”: There is no picture called “gone”. Add it, or choose another. (and 1 more row)",
    ]);
  });

  it("says where to go", () => {
    const document = withBlock(
      plainStudy(),
      (block) => void block.scenes[1]!.items.push(newImageItem(() => "i", "bird", "gone")),
    );
    expect(preflight(document)[0]?.target).toMatchObject({
      part: firstBlock(document).id,
      scene: firstBlock(document).scenes[1]!.id,
      item: "i",
    });
  });
});
