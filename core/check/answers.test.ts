import { describe, expect, it } from "vitest";
import { flawed, linesOf, type Flaw } from "~/tests/support/findings";
import { plainStudy, withBlock } from "~/tests/support/studies";
import { newKeys } from "../devices/keys/keys";
import { hasErrors, preflight } from "./preflight";

describe("answers", () => {
  it.each<Flaw>([
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
      "a window that opens after it closes",
      (block) => {
        block.answers[0]!.opensWith = block.scenes[1]!.id;
        block.answers[0]!.closesWith = block.scenes[0]!.id;
      },
      /opens with “target” but closes with “fixation”, which comes earlier/,
    ],
  ])("finds %s", (_, change, message) => expect(linesOf(flawed(change)).join("\n")).toMatch(message));

  it("warns of rows without a right answer but lets them be played", () => {
    const findings = preflight(
      withBlock(plainStudy(), (block) => void (block.table.rows[0]!.cells["column-3"] = null)),
    );
    expect(hasErrors(findings)).toBe(false);
    expect(findings.find(({ level }) => level === "warning")?.message).toMatch(/Row 1 has no right answer/);
  });
});
