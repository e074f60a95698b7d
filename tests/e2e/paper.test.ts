import { readFileSync } from "node:fs";
import { strFromU8, unzipSync } from "fflate";
import { beforeEach, describe, expect, it } from "vitest";
import type { Page } from "playwright-core";
import { withScreens } from "../support/screens";

const screens = withScreens();
let page: Page;
const results = (query: string) => `${screens.server.address}/studies/amber-quay/results?${query}`;
beforeEach(() => void ({ page } = screens));

const keep = async (query: string) => {
  await page.goto(results(query));
  await page.getByRole("button", { name: "Take the figure away" }).first().click();
  await page.getByRole("menuitem", { name: "Put it into the paper" }).click();
  await page.getByText("The figure is in the paper, the last tab here.").waitFor();
};
async function take(button: string): Promise<{ name: string; files: Record<string, Uint8Array> }> {
  const [file] = await Promise.all([page.waitForEvent("download"), page.getByRole("button", { name: button }).click()]);
  return { name: file.suggestedFilename(), files: unzipSync(readFileSync(await file.path())) };
}
const pngs = (files: Record<string, Uint8Array>) =>
  Object.entries(files).filter(([name, bytes]) => name.endsWith(".png") && bytes[0] === 0x89 && bytes.length > 5000);

describe("the paper", () => {
  it("holds figures that were chosen, in an order, with paragraphs and tables, and is a document and Markdown", async () => {
    await keep("tab=conditions");
    await keep("tab=distributions");
    await page.goto(results("tab=paper"));
    const paper = page.getByRole("article", { name: "The paper" });
    await paper.getByRole("heading", { name: "Participants and exclusions" }).waitFor();
    await paper.getByText(/27 sessions were analysed/).waitFor();
    const captions = () => paper.locator("figcaption").allTextContents();
    const [first, second] = await captions();
    expect(first).toMatch(/^Note\. .*27 of 27 sessions/);
    await page.getByRole("button", { name: "Figure 2 earlier" }).click();
    await expect.poll(captions).toEqual([second, first]);
    await paper.getByRole("checkbox", { name: "with its numbers as a table" }).nth(1).click();
    const table = paper.getByRole("region", { name: "Table 1" });
    await table.waitFor();
    const numbers = await table.locator("tbody tr").first().locator("td").allTextContents();

    const docx = await take("Take it as .docx");
    expect(docx.name).toBe("amber-quay-paper.docx");
    const text = strFromU8(docx.files["word/document.xml"] as Uint8Array)
      .split(/[<>]/)
      .join("\n");
    for (const each of [
      "Waders on a mudflat",
      "27 sessions were analysed",
      "Figure 1",
      "Figure 2",
      "Table 1",
      ...numbers,
    ])
      expect(text).toContain(each);
    expect(pngs(docx.files)).toHaveLength(2);

    const markdown = await take("As Markdown, with pictures (zip)");
    const written = strFromU8(markdown.files["paper.md"] as Uint8Array);
    expect(written).toMatch(/^# Waders on a mudflat\n\n## /);
    expect(written).toContain(`| ${numbers.join(" | ")} |`);
    expect(
      pngs(markdown.files)
        .map(([name]) => name)
        .toSorted(),
    ).toEqual(["figure-1.png", "figure-2.png"]);

    // Whoever comes back finds it as it was; what is taken out is gone.
    await page.reload();
    expect(await captions()).toEqual([second, first]);
    await page.getByRole("button", { name: "Take figure 1 out" }).click();
    await expect.poll(captions).toEqual([first]);
    await page.getByRole("link", { name: "as it is now" }).click();
    await page.waitForURL(/tab=conditions/);
  });
});
