import { readdir } from "node:fs/promises";
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

it("every folder of core/ has its place in the order", async () => {
  for (const { name } of (await readdir("core", { withFileTypes: true })).filter((each) => each.isDirectory()))
    expect(await complaints(`core/${name}/x.ts`, 'import "../check/preflight";'), name).toMatch(
      name === "check" ? /^$/ : /stands above/,
    );
});

describe("the directions of imports", () => {
  it.each([
    ["core/run/x.ts", 'import "~/server/studies";'],
    ["core/run/x.ts", 'import "../../player/clock";'],
    ["core/run/x.ts", 'import "react";'],
    ["core/run/x.ts", 'import "node:fs";'],
    ["core/run/x.ts", "export const x = Math.random();"],
    ["core/run/x.ts", "export const x = Date.now();"],
    ["core/compile/x.ts", 'import "../run/machine";'],
    ["core/items/text/x.ts", 'import "../../design/document";'],
    ["core/values/x.ts", 'import "~/core/items/registry";'],
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
    ["core/run/x.ts", 'import "../design/document";'],
    ["core/items/text/x.ts", 'import "../../values/resolve"; import "../../shape/plain";'],
  ])("%s may have %s", async (file, code) => expect(await complaints(file, code)).toBe(""));
});
