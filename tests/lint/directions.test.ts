import { ESLint } from "eslint";
import { describe, expect, it } from "vitest";

const eslint = new ESLint();
/** What the lint says of a line of code as if it stood in that file. */
async function complaints(file: string, code: string): Promise<string> {
  const [result] = await eslint.lintText(code, { filePath: file });
  return (result?.messages ?? [])
    .filter(({ ruleId }) => ruleId?.startsWith("no-restricted"))
    .map(({ message }) => message)
    .join("\n");
}

describe("the directions of imports", () => {
  it.each([
    ["core/run/x.ts", 'import "~/server/studies";'],
    ["core/run/x.ts", 'import "../../player/clock";'],
    ["core/run/x.ts", 'import "react";'],
    ["core/run/x.ts", 'import "node:fs";'],
    ["core/run/x.ts", "export const x = Math.random();"],
    ["core/run/x.ts", "export const x = Date.now();"],
    ["player/x.ts", 'import "~/server/studies";'],
    ["player/x.ts", 'import "react";'],
    ["server/x.ts", 'import "~/app/root";'],
    ["server/x.ts", 'import "../player/clock";'],
    ["workers/x.ts", 'import "~/app/root";'],
    ["app/x.ts", 'import "~/cli/main";'],
    ["cli/x.ts", 'import "../app/root";'],
  ])("%s may not have %s", async (file, code) => expect(await complaints(file, code)).not.toBe(""));

  it.each([
    ["player/x.ts", 'import "~/core/run/machine";'],
    ["server/x.ts", 'import "../core/run/machine";'],
    ["app/x.ts", 'import "~/server/studies"; import "~/player/clock"; import "~/workers/ribbon";'],
    ["cli/x.ts", 'import "../server/studies"; import "../demo/add-demo";'],
    ["core/run/x.ts", 'import "../design/types";'],
  ])("%s may have %s", async (file, code) => expect(await complaints(file, code)).toBe(""));
});
