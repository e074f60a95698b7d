import { execFile } from "node:child_process";
import { promisify } from "node:util";
import { strFromU8, unzipSync } from "fflate";
import type { Browser, Page } from "playwright-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { launch, lookAround, openWindow, saved, storedStudy } from "../support/browser";
import { startServer, type Running } from "../support/server";
import { answer, begin, press, releaseShortStudy } from "../support/short-study";

let browser: Browser;
let server: Running;
beforeAll(async () => {
  [browser, server] = await Promise.all([launch(), startServer({ demo: true })]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

async function participant(link: string): Promise<{ page: Page; close: () => Promise<void> }> {
  const { page, context } = await openWindow(browser);
  await begin(page, link);
  return { page, close: () => context.close() };
}

describe("participants’ data", () => {
  it("are said by the study’s settings, found by a code, given as a file, and deleted; what was done is written down", async () => {
    const { code, link } = releaseShortStudy(server, {});
    const one = await participant(`${link}?participant=oystercatcher-5`);
    await answer(one.page, 0, 8);
    await press(one.page, "Finish");
    const completion = (await one.page.locator(".code").textContent()) ?? "";
    await one.close();
    const { page, context } = await openWindow(browser);
    await lookAround(page, server.address);
    await page.goto(`${server.address}/studies/${code}/collect`);
    await page.getByRole("link", { name: "What is kept of participants" }).click();
    await page.getByText("Nothing. Pages, fonts and media come from this server alone").waitFor();
    await page.getByLabel("Remove codes and browser names some time after a wave").check();
    await page.getByText("removed 30 days after the wave was closed").waitFor();
    await page.getByLabel("Days after the wave").fill("7");
    await page.getByText("removed 7 days after the wave was closed").waitFor();
    await page.getByLabel("Delete sessions with all answers some years after a wave").check();
    await page.getByText("is deleted for good 10 years after the wave was closed").first().waitFor();
    await page.getByLabel("Years after the wave").fill("1");
    await page.getByText("Everything else is deleted for good 1 year after the wave was closed").waitFor();
    await saved(page);
    expect((await storedStudy(page, server.address, code)).settings.participation).toMatchObject({
      ...{ namesKeptDays: 7, answersKeptYears: 1 },
    });
    const find = async (said: string) => {
      await page.getByLabel("Code, number or link of a participant").fill(said);
      await page.getByRole("button", { name: "Find", exact: true }).click();
    };
    await find("nobody-knows");
    await page.getByText("Nobody in this study has this code or number.").waitFor();
    // The code they were given finds them as the one they chose does; neither stands in an address.
    await find(completion);
    await page.getByText("oystercatcher-5").waitFor();
    await find("oystercatcher-5");
    await page.getByText("8 of them trials").waitFor();
    expect(page.url()).not.toMatch(/oystercatcher/);
    const file = page.waitForEvent("download");
    await page.getByRole("link", { name: "Their data as a file" }).click();
    const stream = await (await file).createReadStream();
    const pieces: Buffer[] = [];
    for await (const piece of stream) pieces.push(piece as Buffer);
    const zip = unzipSync(new Uint8Array(Buffer.concat(pieces)));
    expect(JSON.parse(strFromU8(zip["sitting-1.json"] ?? new Uint8Array()))).toMatchObject({
      codes: { participant: "oystercatcher-5", completion },
    });
    await page.getByRole("button", { name: "Delete this participant" }).click();
    await page.getByRole("dialog").getByRole("button", { name: "Keep it" }).click();
    await page.getByRole("button", { name: "Delete this participant" }).click();
    await page.getByRole("dialog").getByRole("button", { name: "Delete for good" }).click();
    await page.getByText("All of participant 1 was deleted: 1 sitting.").waitFor();
    await find("oystercatcher-5");
    await page.getByText("Nobody in this study has this code or number.").waitFor();
    await context.close();
  });

  it("are kept or removed when somebody leaves; who leaves is given a code where they are kept", async () => {
    for (const withdrawn of ["keep", "remove"] as const) {
      const { code, link } = releaseShortStudy(server, { withdrawn });
      const { page, close } = await participant(link);
      await answer(page, 0, 2);
      await page.keyboard.press("Escape");
      await press(page, "Leave the study");
      await press(page, "Leave the study");
      await page.getByText("You have left the study").waitFor();
      const given = await page.locator(".code").allTextContents();
      expect(given.length).toBe(withdrawn === "keep" ? 1 : 0);
      await close();
      const researcher = await openWindow(browser);
      await lookAround(researcher.page, server.address);
      await researcher.page.goto(`${server.address}/studies/${code}/privacy?who=1`);
      if (withdrawn === "keep") {
        await expect
          .poll(() => researcher.page.getByText("of them trials").textContent())
          .toMatch(/^[1-9]\d? records, [1-9]/);
        await researcher.page.getByLabel("Code, number or link of a participant").fill(given[0] ?? "");
        await researcher.page.getByRole("button", { name: "Find", exact: true }).click();
        await researcher.page.getByRole("heading", { name: "Participant 1" }).waitFor();
      } else {
        await researcher.page.getByText("removed", { exact: true }).waitFor();
        await researcher.page.getByText("A session was left, and all of it removed.").waitFor();
      }
      await researcher.context.close();
    }
  });

  it("of a study go with it when it is deleted from the bin: asked, then its title typed", async () => {
    const { code } = releaseShortStudy(server, {});
    const { page, context } = await openWindow(browser);
    await lookAround(page, server.address);
    const title = (await page.locator("tr", { hasText: code }).getByRole("link").textContent()) ?? "";
    await page
      .locator("tr", { hasText: code })
      .getByRole("button", { name: /Actions for/ })
      .click();
    await page.getByRole("menuitem", { name: "Move to the bin" }).click();
    await page.getByRole("button", { name: /^bin/ }).click();
    await page.locator("tr", { hasText: code }).getByRole("button", { name: "Delete" }).click();
    const dialog = page.getByRole("dialog");
    await dialog.getByRole("button", { name: "Delete it" }).click();
    await dialog.getByLabel("Type its title to delete it").fill("another");
    await dialog.getByRole("button", { name: "Delete for good" }).click();
    await dialog.getByText("This is not the study’s title, so nothing was deleted.").waitFor();
    await dialog.getByLabel("Type its title to delete it").fill(title);
    await dialog.getByRole("button", { name: "Delete for good" }).click();
    await page.locator("tr", { hasText: code }).waitFor({ state: "detached" });
    await context.close();
  });
});

describe("an account", () => {
  const run = promisify(execFile);
  const cli = (input: string, ...parts: string[]) => {
    const env = { ...process.env, LAPWING_DATA: server.folder };
    const running = run("node", ["build/node/cli.js", "account", ...parts], { env });
    running.child.stdin?.end(input);
    return running.then(
      ({ stdout }) => stdout,
      (error: { stderr: string }) => error.stderr,
    );
  };

  it("is made and closed on the command line; its sign-ins are listed and ended, its password is changed", async () => {
    expect(await cli("short\n", "add", "ann@harbour.example")).toMatch(/10 to 200 characters; nothing was changed/);
    expect(await cli("a long password\n", "add", "ann@harbour.example", "--name", "Ann")).toMatch(/can sign in now/);
    expect(await cli("a long password\n", "add", "ann@harbour.example")).toMatch(/already an account/);
    const signIn = async (password: string) => {
      const opened = await openWindow(browser);
      await opened.page.goto(`${server.address}/sign-in`);
      await opened.page.getByLabel("E-mail address").fill("ann@harbour.example");
      await opened.page.getByLabel("Password").fill(password);
      await opened.page.getByLabel(/Stay signed in/).check();
      await opened.page.getByRole("button", { name: "Sign in" }).click();
      return opened;
    };
    const [first, second] = [await signIn("a long password"), await signIn("a long password")];
    for (const { page } of [first, second]) await page.waitForURL("**/studies");
    expect((await first.context.cookies())[0]).toMatchObject({ httpOnly: true, sameSite: "Lax" });
    // By keys alone.
    await first.page.getByRole("button", { name: "Ann" }).press("Enter");
    await first.page.getByRole("menuitem", { name: "Your account" }).press("Enter");
    await first.page.getByText("after 30 days without use").first().waitFor();
    await first.page.getByLabel("Present password").fill("not my password");
    await first.page.getByLabel("New password").fill("another long one");
    await first.page.getByRole("button", { name: "Change password" }).click();
    await first.page.getByText("This is not your password.").waitFor();
    await first.page.getByLabel("Present password").fill("a long password");
    await first.page.getByLabel("New password").fill("another long one");
    await first.page.getByRole("button", { name: "Change password" }).click();
    await first.page.getByText("The password is changed. You are signed in here only.").waitFor();
    await second.page.reload();
    await second.page.waitForURL("**/sign-in");
    const third = await signIn("another long one");
    await third.page.waitForURL("**/studies");
    await first.page.reload();
    await first.page.getByRole("button", { name: "End all others" }).click();
    await first.page.getByText("Ended.").waitFor();
    await third.page.reload();
    await third.page.waitForURL("**/sign-in");
    expect(await cli("", "close", "ann@harbour.example")).toMatch(/Nobody can sign in/);
    await first.page.reload();
    await first.page.waitForURL("**/sign-in");
    const closed = await signIn("another long one");
    await closed.page.getByText("The address or the password is not right.").waitFor();
    for (const { context } of [first, second, third, closed]) await context.close();
  });
});
