import { readdirSync, readFileSync } from "node:fs";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { Secret, TOTP } from "otpauth";
import { describe, expect, it } from "vitest";
import { openWindow, saved } from "~/tests/support/browser";
import { oneBoat, playToEnd, visitor } from "~/tests/support/collecting";
import { press } from "~/tests/support/short-study";
import { emailOf, miras, password, people, shareWith, signIn, teamScreens, windowOf } from "~/tests/support/team";

const mailbox = mkdtempSync(join(tmpdir(), "lapwing-mailbox-"));
const screens = teamScreens({ LAPWING_MAIL: pathToFileURL(mailbox).href });

/** The address of a link in the newest mail to somebody, once it has come. */
async function mailedTo(email: string): Promise<string> {
  const links = () =>
    readdirSync(mailbox)
      .toSorted()
      .map((name) => readFileSync(join(mailbox, name), "utf8").replaceAll("=\n", ""))
      .filter((text) => text.includes(`To: ${email}`))
      .flatMap((text) => /http\S+\/invited\/\S+/.exec(text)?.[0] ?? []);
  await expect.poll(() => links().length).toBeGreaterThan(0);
  return links().at(-1) ?? "";
}
const peoplePage = (code: string) => `${screens.server.address}/studies/${code}/people`;

describe("accounts", () => {
  it("are invited by mail, by a link that works once, and have a name of their own", async () => {
    const mira = await windowOf(screens, "mira");
    await mira.goto(`${screens.server.address}/team`);
    await mira.getByLabel("E-mail address of whom you invite").fill("eva@shore.example");
    await press(mira, "Invite");
    await mira.getByText("Mailed to eva@shore.example.").waitFor();
    const link = await mailedTo("eva@shore.example");

    const { page: eva } = await openWindow(screens.browser);
    await eva.goto(link);
    await eva.getByText("Mira Sandvik invites you to work here.").waitFor();
    await eva.getByLabel("Name").fill("Eva");
    await eva.getByLabel("Password").fill("short");
    await press(eva, "Create account");
    await eva.getByText("Use at least 10 characters.").waitFor();
    await eva.getByLabel("Password").fill(password);
    // While the server is away, what was typed stays.
    await eva.route("**/invited/**", (route) =>
      route.request().method() === "POST" ? route.abort() : route.fallback(),
    );
    await press(eva, "Create account");
    await eva.getByRole("alert").getByText("The server cannot be reached. What you typed is still here").waitFor();
    expect(await eva.getByLabel("Name").inputValue()).toBe("Eva");
    await eva.unroute("**/invited/**");
    await press(eva, "Create account");
    await eva.waitForURL("**/studies");
    await eva.goto(link);
    await eva.getByRole("heading", { name: "This link works no more" }).waitFor();
    await eva.goto(`${screens.server.address}/account`);
    await eva.getByLabel("Your name, as colleagues see it").fill("Eva Holm");
    await press(eva, "Change name");
    await eva.getByRole("heading", { name: "Eva Holm" }).waitFor();
    // Whoever is no administrator sees laboratories, and nobody's account.
    await eva.goto(`${screens.server.address}/team`);
    await eva.getByRole("heading", { name: "Your laboratories" }).waitFor();
    expect(await eva.getByText(emailOf("tom")).count()).toBe(0);
  });

  it("get a new password by mail, and say the same of an address nobody has", async () => {
    const { page } = await openWindow(screens.browser);
    await page.goto(`${screens.server.address}/forgotten`);
    await page.getByLabel("E-mail address").fill("nobody@shore.example");
    await press(page, "Mail me a link");
    await page.getByText("If there is an account nobody@shore.example, a link was mailed to it just now.").waitFor();
    await page.goto(`${screens.server.address}/forgotten`);
    await page.getByLabel("E-mail address").fill(emailOf("tom"));
    await press(page, "Mail me a link");
    await page.getByText(`If there is an account ${emailOf("tom")}, a link was mailed to it just now.`).waitFor();
    await page.goto(await mailedTo(emailOf("tom")));
    await page.getByLabel("Password").fill("another long one");
    await press(page, "Set the password");
    await page.waitForURL("**/studies");
    const { page: elsewhere } = await openWindow(screens.browser);
    await signIn(elsewhere, screens.server.address, "tom");
    await elsewhere.getByText("The address or the password is not right.").waitFor();
    await signIn(elsewhere, screens.server.address, "tom", "another long one");
    await elsewhere.waitForURL("**/studies");
  });

  it("ask for a code of an app where that is wanted, each code once, until it is turned off", async () => {
    const jonas = await windowOf(screens, "jonas");
    await jonas.goto(`${screens.server.address}/account`);
    const secret = (await jonas.locator("#second ~ form code").textContent()) ?? "";
    const app = new TOTP({ secret: Secret.fromBase32(secret) });
    await jonas.getByRole("textbox", { name: "Code" }).fill("000000");
    await press(jonas, "Ask for a code from now on");
    await jonas.getByText("This code is not right.").waitFor();
    // The one before, which a clock that is a little off would show.
    await jonas.getByRole("textbox", { name: "Code" }).fill(app.generate({ timestamp: Date.now() - 30_000 }));
    await press(jonas, "Ask for a code from now on");
    await jonas.getByText("From now on a code of your app is asked for").waitFor();

    const { page } = await openWindow(screens.browser);
    await signIn(page, screens.server.address, "jonas");
    await page.getByText("Type the code your app shows just now.").waitFor();
    const code = app.generate();
    await page.getByLabel("Code of your app").fill(code);
    await press(page, "Sign in");
    await page.waitForURL("**/studies");
    const { page: again } = await openWindow(screens.browser);
    await signIn(again, screens.server.address, "jonas");
    await again.getByLabel("Code of your app").fill(code);
    await press(again, "Sign in");
    await again.getByText("it was used already").waitFor();

    await page.goto(`${screens.server.address}/account`);
    await page.getByLabel("Your password", { exact: true }).fill(password);
    await press(page, "Stop asking for a code");
    await page.getByText("A code is no longer asked for.").waitFor();
    await signIn(again, screens.server.address, "jonas");
    await again.waitForURL("**/studies");
  });

  it("are closed by an administrator; the studies go to whom they name", async () => {
    const mira = await windowOf(screens, "mira");
    await mira.goto(`${screens.server.address}/team`);
    await mira.getByLabel("E-mail address of whom you invite").fill("ida@shore.example");
    await press(mira, "Invite");
    const { page: ida } = await openWindow(screens.browser);
    await ida.goto(await mailedTo("ida@shore.example"));
    await ida.getByLabel("Name").fill("Ida");
    await ida.getByLabel("Password").fill(password);
    await press(ida, "Create account");
    await press(ida, "New study");
    await ida.getByLabel("Title").fill("Terns over the pier");
    await press(ida, "Create study");
    await ida.waitForURL("**/compose");

    await mira.reload();
    await press(mira, "More about Ida");
    await mira.getByRole("menuitem", { name: "Close the account …" }).click();
    await press(mira, "Close the account");
    await mira.locator("[data-account='ida@shore.example']").getByText("closed").waitFor();
    await ida.reload();
    await ida.getByRole("button", { name: "Sign in" }).waitFor();
    await mira.goto(`${screens.server.address}/studies`);
    await mira.getByRole("link", { name: "Terns over the pier" }).waitFor();
  });
});

describe("a study that is shared", () => {
  it("is to each what they are in it, from the list to what they may press, until they leave", async () => {
    const { code, link } = miras(screens, oneBoat());
    const mira = await windowOf(screens, "mira");
    await mira.goto(peoplePage(code));
    await mira
      .getByRole("form", { name: "Share it" })
      .getByLabel("E-mail address of a person")
      .fill("nobody@shore.example");
    await press(mira, "Share");
    await mira.getByText("Nobody here has the address nobody@shore.example.").waitFor();
    await shareWith(mira, "jonas", "designer");
    await shareWith(mira, "ada", "analyst");
    const taking = await visitor(screens, link);
    await playToEnd(taking);

    const sections = (page: typeof mira) =>
      page.getByRole("navigation", { name: "Sections of the study" }).getByRole("link").allTextContents();
    const designer = await windowOf(screens, "jonas");
    await designer.getByText("Mira Sandvik’s; you are a designer").waitFor();
    await designer.goto(`${screens.server.address}/studies/${code}`);
    await designer.getByLabel("Title of the study").waitFor();
    await expect.poll(() => sections(designer)).toEqual(["plan", "compose", "rehearse", "collect"]);
    await designer.getByLabel("Title of the study").fill("Boats at noon");
    await saved(designer);
    await designer.goto(`${screens.server.address}/studies/${code}/results`);
    await designer.getByText("You are a designer in this study.").waitFor();

    const analyst = await windowOf(screens, "ada");
    await analyst.getByRole("link", { name: "Boats at noon" }).click();
    await analyst.waitForURL("**/collect");
    await expect.poll(() => sections(analyst)).toEqual(["collect", "results"]);
    await analyst.getByText("You are an analyst").waitFor();
    expect(await analyst.getByRole("button", { name: "Release this version" }).count()).toBe(0);
    await analyst.locator("[data-session-state='finished']").getByRole("link", { name: "1", exact: true }).click();
    await analyst.getByLabel("Why it should not count").fill("A friend of mine.");
    await press(analyst, "Do not count it");
    await analyst.getByText("Does not count: A friend of mine.").waitFor();

    // A reader looks, and nothing changes.
    await mira.reload();
    await mira.locator(`[data-share="${people.ada}"]`).getByRole("button", { name: "reader" }).click();
    await expect
      .poll(() => mira.locator(`[data-share="${people.ada}"]`).getByRole("button", { pressed: true }).allTextContents())
      .toEqual(["analyst", "reader"]);
    await mira.locator(`[data-share="${people.ada}"]`).getByRole("button", { name: "analyst" }).click();
    await expect
      .poll(() => mira.locator(`[data-share="${people.ada}"]`).getByRole("button", { pressed: true }).allTextContents())
      .toEqual(["reader"]);
    await analyst.goto(`${screens.server.address}/studies/${code}/plan`);
    await expect.poll(() => sections(analyst)).toEqual(["plan", "compose"]);
    await press(analyst, "Group");
    await analyst.getByRole("menuitem", { name: "Another group" }).click();
    await analyst.getByText("You can look at this design, not change it.").waitFor();

    // The log has it all, and who leaves is gone.
    await mira.reload();
    const log = mira.locator("[data-log]");
    await log.getByText(`Participant 1 does not count. by ${people.ada}`).waitFor();
    await log.getByText(`Participant 1 was looked at. by ${people.ada}`).waitFor();
    await log.getByText(`${people.jonas} (${emailOf("jonas")}) is a designer now.`).waitFor();
    await mira.getByLabel("What the log shows").selectOption("left-out");
    await expect.poll(() => log.getByRole("listitem").count()).toBe(1);
    await designer.goto(peoplePage(code));
    await press(designer, "Leave this study");
    await press(designer, "Leave");
    await designer.waitForURL("**/studies");
    await designer.getByText("You have no studies yet.").waitFor();
  });

  it("with a laboratory is everybody's who belongs to it; with a key a program reads its data", async () => {
    const { code, link } = miras(screens, oneBoat());
    await playToEnd(await visitor(screens, link));
    const mira = await windowOf(screens, "mira");
    await mira.goto(`${screens.server.address}/team`);
    await mira.getByLabel("What the laboratory is called").fill("Mud and Tide");
    await press(mira, "New laboratory");
    await mira.getByLabel("E-mail address of a new member").fill(emailOf("jonas"));
    await press(mira, "Add");
    await mira.locator(`[data-member="${emailOf("jonas")}"]`).waitFor();
    await mira.goto(peoplePage(code));
    await mira.getByLabel("A laboratory").selectOption({ label: "Mud and Tide" });
    await mira.getByRole("group", { name: "As what" }).getByRole("button", { name: "analyst" }).click();
    await press(mira, "Share");
    await mira.locator("[data-share='Mud and Tide']").waitFor();

    const jonas = await windowOf(screens, "jonas");
    await jonas.goto(peoplePage(code));
    await jonas.getByLabel("What the key is for").fill("nightly script");
    await press(jonas, "Make a key");
    const key = (await jonas.locator("[data-key]").textContent()) ?? "";
    const ask = () =>
      fetch(`${screens.server.address}/studies/${code}/trials.csv`, { headers: { Authorization: `Bearer ${key}` } });
    const csv = await (await ask()).text();
    expect(csv.trim().split("\n")).toHaveLength(2);

    // Who is taken out of the laboratory has nothing left of it, and neither have their programs.
    await mira.goto(`${screens.server.address}/team`);
    await mira
      .locator(`[data-member="${emailOf("jonas")}"]`)
      .getByRole("button", { name: "Take out" })
      .click();
    await expect.poll(() => mira.locator(`[data-member="${emailOf("jonas")}"]`).count()).toBe(0);
    expect((await ask()).status).toBe(401);
    await jonas.reload();
    await jonas.getByRole("heading", { name: "Not found" }).waitFor();
  });

  it("is worked on by two at once, who see each other and speak of its parts", async () => {
    const { code } = miras(screens, oneBoat());
    const mira = await windowOf(screens, "mira");
    await mira.goto(peoplePage(code));
    await shareWith(mira, "jonas", "designer");
    await mira.goto(`${screens.server.address}/studies/${code}/compose`);
    const jonas = await windowOf(screens, "jonas");
    await jonas.goto(`${screens.server.address}/studies/${code}/compose`);
    await jonas.getByRole("img", { name: "Mira Sandvik is in Compose, at Boats" }).waitFor();
    await mira.getByRole("img", { name: "Jonas Pell is in Compose, at Boats" }).waitFor();

    // What one changes the other has, without loading the page again.
    await jonas.getByLabel("Title of the study").fill("Boats by two");
    await saved(jonas);
    await expect.poll(() => mira.getByLabel("Title of the study").inputValue()).toBe("Boats by two");

    await jonas.getByRole("button", { name: /^Scene \d+, target/ }).click();
    await press(jonas, "Comments");
    const said = jonas.getByRole("dialog", { name: "Comments" });
    await said.getByLabel("Comment", { exact: true }).fill("Could it be shown longer?");
    await press(jonas, "Add the comment");
    await said.getByRole("button", { name: "Scene target, Boats" }).waitFor();
    await press(mira, "Comments, 1 open");
    const read = mira.getByRole("dialog", { name: "Comments" });
    await read.getByText("Could it be shown longer?").waitFor();
    await read.getByLabel("An answer to Jonas Pell").fill("Yes, 300 ms.");
    await press(mira, "Answer");
    await read.getByText("Yes, 300 ms.").waitFor();
    await press(mira, "Resolve");
    await read.getByText("Nothing is open.").waitFor();
    await press(mira, "resolved, 1");
    await read.getByText("Resolved by Mira Sandvik").waitFor();
    // It leads to what it is about.
    await read.getByRole("button", { name: "Scene target, Boats" }).click();
    await mira.getByRole("button", { name: "Move scene later" }).waitFor();

    await jonas.goto(`${screens.server.address}/studies`);
    await expect.poll(() => mira.getByRole("img", { name: /^Jonas Pell is in/ }).count()).toBe(0);
  });

  it("has labels, and is found by them, by its people and by words in its design", async () => {
    const document = oneBoat();
    document.title = "Boats with labels";
    document.description = "Oystercatchers rest on the groyne.";
    const { code } = miras(screens, document);
    const mira = await windowOf(screens, "mira");
    await press(mira, "Actions for Boats with labels");
    await mira.getByRole("menuitem", { name: "Labels …" }).click();
    await mira.getByLabel("Labels, with commas between them").fill("spring term, pilot");
    await press(mira, "Set the labels");
    await mira.getByLabel("With the label").selectOption("spring term");
    const titles = () => mira.getByRole("row").getByRole("link").allTextContents();
    await expect.poll(titles).toEqual(["Boats with labels"]);
    await mira.getByLabel("With the label").selectOption("");
    await mira.getByLabel("Search studies").fill("groyne");
    await mira.getByText("In it: “Oystercatchers rest on the groyne.”").waitFor();
    await expect.poll(titles).toEqual(["Boats with labels"]);
    await mira.goto(peoplePage(code));
    await shareWith(mira, "tom", "reader");
    const tom = (await openWindow(screens.browser)).page;
    await signIn(tom, screens.server.address, "tom", "another long one");
    await tom.getByLabel("Search studies").fill("Sandvik");
    await tom.getByRole("link", { name: "Boats with labels" }).waitFor();
  });
});
