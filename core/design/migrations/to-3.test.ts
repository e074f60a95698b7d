import { readFileSync } from "node:fs";
import { expect, it } from "vitest";
import { preflight } from "../../check/preflight";
import { plannedAssignment } from "../../allocate/allocate";
import { blocksInOrder } from "../lookup";
import { parseStudyText } from "../parse";

const read = () => {
  const parsed = parseStudyText(readFileSync("tests/support/limits-version-2.lapwing.json", "utf8"));
  if (!parsed.ok) throw new Error(parsed.mistakes.join("\n"));
  return parsed.document;
};

it("a study saved as version 2 keeps its limits, in the new form, and its groups are given as before", () => {
  const document = read();
  const [block] = blocksInOrder(document);
  const word = block?.table.columns[0]?.id;
  expect(block?.order.limits).toEqual([
    { kind: "longest-run", columns: [word], most: 2 },
    { kind: "smallest-gap", columns: [word], atLeast: 1 },
    { kind: "balanced-transitions", columns: [word], itself: "as-often" },
    { kind: "edge-trials", at: "first", column: word, only: ["gull"], count: 1 },
  ]);
  expect(document.allocation).toMatchObject({ method: "permuted-blocks", blockSizes: [1], strata: [] });
  const groups = Array.from({ length: 6 }, (_, index) => plannedAssignment(document, index + 1).group);
  for (let pair = 0; pair < 6; pair += 2) expect(groups[pair]).not.toBe(groups[pair + 1]);
  expect(
    preflight(document).filter(({ level, message }) => level === "error" && /cannot be played yet/.test(message)),
  ).toEqual([]);
});
