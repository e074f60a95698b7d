import { createHash } from "node:crypto";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { strFromU8, strToU8, unzipSync, zipSync } from "fflate";
import type { Page } from "playwright-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openStore } from "~/server/database/open";
import { openWindow } from "../support/browser";
import { withScreens } from "../support/screens";
import { startServer, type Running } from "../support/server";
import { freshOwner } from "../support/store";

const screens = withScreens();
const folder = mkdtempSync(join(tmpdir(), "lapwing-moving-"));
let other: Running;
/** A window at the second installation. */
let page: Page;
beforeAll(async () => {
  const opened = await openStore(folder);
  if (!opened.ok) throw new Error(opened.reason);
  await freshOwner(opened.store);
  await opened.store.close();
  other = await startServer({ folder });
});
afterAll(async () => {
  await other.stop();
  rmSync(folder, { recursive: true, force: true });
});

/** The data file of the demo study, as the page gives it. */
async function taken(): Promise<{ name: string; path: string }> {
  const here = screens.page;
  await here.goto(`${screens.server.address}/studies/amber-quay/results?tab=export`);
  const [file] = await Promise.all([
    here.waitForEvent("download"),
    here.getByRole("link", { name: "The study and its data (.lapwing-data.zip)" }).click(),
  ]);
  const path = join(folder, file.suggestedFilename());
  await file.saveAs(path);
  return { name: file.suggestedFilename(), path };
}
async function signIn(): Promise<void> {
  ({ page } = await openWindow(screens.browser));
  await page.goto(`${other.address}/sign-in`);
  await page.getByLabel("E-mail address").fill("owner@lapwing.example");
  await page.getByLabel("Password", { exact: true }).fill("a long password");
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await page.getByRole("heading", { name: "Studies" }).waitFor();
}
async function choose(path: string): Promise<void> {
  await page.goto(`${other.address}/studies`);
  await page.getByLabel("Study file").setInputFiles(path);
  await page.getByRole("heading", { name: "Data from another installation" }).waitFor();
}
const sentences = () => page.getByRole("region", { name: "What is in the file" }).getByRole("listitem");

describe("results on their way to a second installation", () => {
  it("are told before they are taken in, come once, and differ nowhere; a changed record is put aside", async () => {
    const { name, path } = await taken();
    expect(name).toMatch(/^amber-quay-\d{4}-\d\d-\d\d\.lapwing-data\.zip$/);
    await signIn();
    await choose(path);
    expect(await sentences().allTextContents()).toEqual([
      "“Waders on a mudflat” comes here as a new study, with the code amber-quay.",
      "27 sessions are new.",
      "With it come 1 release and 1 wave, closed.",
      "It holds no codes of participants.",
    ]);
    await page.getByText("Nothing has been written yet.").waitFor();
    await page.getByRole("button", { name: "Take it in" }).click();
    await page.getByText("27 sessions were taken in.").waitFor();
    await page.getByRole("link", { name: "Open the study" }).click();
    await page.waitForURL(/\/studies\/amber-quay\/collect/);

    // The same trials, to the last byte.
    const trials = async ({ address }: Running, at: Page) =>
      (await at.context().request.get(`${address}/studies/amber-quay/trials.csv`)).text();
    const there = await trials(other, page);
    expect(there.split("\n").length).toBeGreaterThan(2300);
    expect(there).toBe(await trials(screens.server, screens.page));

    // Once more, with one record that was changed on the way.
    const files = unzipSync(readFileSync(path));
    delete files["checksums.txt"];
    const lines = strFromU8(files["sessions.jsonl"] as Uint8Array)
      .trimEnd()
      .split("\n");
    const first = JSON.parse(lines[0] ?? "") as { records: { body: string }[] };
    const record = first.records.find(({ body }) => body.includes('"kind":"trial"'));
    if (!record) throw new Error("no trial");
    record.body = record.body.replace(/"rt":(\d+)/, '"rt":1$1');
    files["sessions.jsonl"] = strToU8([JSON.stringify(first), ...lines.slice(1)].join("\n"));
    const sums = Object.entries(files).map(
      ([file, bytes]) => `${createHash("sha256").update(bytes).digest("hex")}  ${file}\n`,
    );
    const changed = join(folder, "changed.lapwing-data.zip");
    writeFileSync(changed, zipSync({ ...files, "checksums.txt": strToU8(sums.join("")) }));
    await choose(changed);
    expect(await sentences().allTextContents()).toEqual([
      "“Waders on a mudflat” (amber-quay) is here already; what is here stays.",
      "No session is new.",
      "26 sessions are here already, and are passed over.",
      "1 session is different there: what is here stays, and what differs is kept aside.",
      "It holds no codes of participants.",
    ]);
    const told = page.getByRole("region", { name: "Table of sessions to look at" }).getByRole("row");
    expect(await told.nth(1).textContent()).toMatch(/^11different.*is otherwise there, and is kept aside\.$/);
    await page.getByRole("button", { name: "Take it in" }).click();
    await page
      .getByText("1 session is different there: what is here stays, and what differs was kept aside.")
      .waitFor();
    expect(await trials(other, page)).toBe(there);
    await page.goto(`${other.address}/studies/amber-quay/collect`);
    await page
      .getByRole("button", { name: /kept aside/ })
      .first()
      .click();
    await page.getByText("A data file from another installation has it otherwise.").waitFor();
  });

  it("say what is wrong with a file that is none, and nothing is written", async () => {
    await signIn();
    const path = join(folder, "torn.lapwing-data.zip");
    writeFileSync(path, "this is no zip");
    await choose(path);
    await page
      .getByRole("alert")
      .getByText("This is no data file. Choose one that ends in .lapwing-data.zip.")
      .waitFor();
    // The page of files itself takes one, too; what waits is nobody else's to see.
    await page.getByRole("link", { name: "Choose another file" }).click();
    await page.getByLabel("Data file").setInputFiles(path);
    await page.getByRole("button", { name: "Look at it" }).click();
    await page.getByRole("alert").waitFor();
    await page.goto(`${other.address}/take-in?file=${"a".repeat(32)}`);
    await page.getByText("This file is not here any longer").waitFor();
  });
});
