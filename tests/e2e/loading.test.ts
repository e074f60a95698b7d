import { rmSync } from "node:fs";
import { expect, it } from "vitest";
import { newItem } from "~/core/items/item";
import { createAccount } from "~/server/accounts";
import { openStore } from "~/server/database/open";
import { storeMedia } from "~/server/media/study-media";
import { freezeRelease } from "~/server/releases";
import { addStudy } from "~/server/studies";
import { launch, openWindow } from "../support/browser";
import { startServer } from "../support/server";
import { plainStudy, withBlock } from "../support/studies";
import { freshFolder } from "../load/long-study";

const html = "<!doctype html><title>Dial</title><p>Turn me</p><script>document.body.append(' by script')</script>";

/** A database with a study whose target shows a file of the study's own; gives the link's token. */
async function released(
  folder: string,
  kind: "web" | "video",
  name: string,
  bytes: Uint8Array<ArrayBuffer>,
): Promise<string> {
  const opened = await openStore(folder);
  if (!opened.ok) throw new Error(opened.reason);
  const { store } = opened;
  const account = await createAccount(store, "owner@lapwing.example", "owner", "a long password");
  if (!account.ok) throw new Error(account.reason);
  const study = await addStudy(store, account.account.id, plainStudy());
  const stored = await storeMedia(store, study.id, name, bytes);
  if (!stored.ok) throw new Error(stored.reason);
  const document = withBlock(plainStudy(), (block) => {
    const item = newItem((prefix) => `${prefix}-own`, kind, "own");
    if (item.kind === "web") item.page = { from: "file", file: stored.file.id };
    if (item.kind === "video") item.file = stored.file.id;
    block.scenes[1]?.items.push(item);
  });
  const frozen = await freezeRelease(store, { ...study, document: { ...document, media: [stored.file] } }, "");
  if (!frozen.ok) throw new Error(frozen.findings.map(({ message }) => message).join("\n"));
  await store.close();
  return frozen.link?.token ?? "";
}

it("a page of the study is shown in a trial without the network, once everything is loaded", async () => {
  const folder = freshFolder();
  const token = await released(folder, "web", "dial.html", new TextEncoder().encode(html));
  const [browser, server] = await Promise.all([launch(), startServer({ folder })]);
  const { page, context } = await openWindow(browser);
  await page.goto(`${server.address}/join/${token}`);
  await page.getByRole("button", { name: "Start" }).click();
  await page.getByRole("button", { name: "Continue" }).waitFor();
  await context.setOffline(true);
  await page.getByRole("button", { name: "Continue" }).click();
  const text = page.frameLocator("#stage iframe").getByText("by script");
  await expect.poll(() => text.textContent(), { timeout: 10_000 }).toMatch(/Turn me\s+by script|by script/);
  await browser.close();
  await server.stop();
  rmSync(folder, { recursive: true, force: true });
});

it("a video that this browser cannot decode keeps the session from beginning, and is named", async () => {
  const folder = freshFolder();
  const header = [0x1a, 0x45, 0xdf, 0xa3, 0x9f, 0x42, 0x82, 0x84, 0x77, 0x65, 0x62, 0x6d];
  const token = await released(folder, "video", "tide.webm", new Uint8Array([...header, ...Array(400).fill(7)]));
  const [browser, server] = await Promise.all([launch(), startServer({ folder })]);
  const { page } = await openWindow(browser);
  await page.goto(`${server.address}/join/${token}`);
  await page.getByRole("button", { name: "Start" }).click();
  await page.getByText("could not be loaded: tide.webm").waitFor({ timeout: 30_000 });
  await page.getByText(/Code for the researcher: s-\w+ · not playable/).waitFor();
  await browser.close();
  await server.stop();
  rmSync(folder, { recursive: true, force: true });
});
