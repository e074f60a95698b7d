// Takes one picture of each main view, made from fresh demo data, into docs/screenshots/ (or the folder given).
// Use: node scripts/screenshots.mjs ADDRESS [FOLDER] [VIEW ...], with the demo running at ADDRESS.
import { chromium } from "playwright-core";
import { mkdirSync } from "node:fs";

const [address = "http://localhost:4173", folder = "docs/screenshots", ...only] = process.argv.slice(2);
const flags = [
  "--no-sandbox",
  "--disable-gpu",
  "--disable-quic",
  "--no-first-run",
  "--disable-background-networking",
  "--disable-component-update",
  "--disable-sync",
];
mkdirSync(folder, { recursive: true });
const browser = await chromium.launch({ executablePath: "/usr/bin/chromium", args: flags });
const context = await browser.newContext({
  viewport: { width: 1280, height: 800 },
  colorScheme: process.env.SCHEME === "dark" ? "dark" : "light",
});
const page = await context.newPage();
page.on("console", (message) => message.type() === "error" && console.error("console:", message.text()));
page.on("pageerror", (error) => console.error("page error:", error.message));
const study = `${address}/studies/amber-quay`;
const settle = async () => {
  await page.waitForLoadState("networkidle").catch(() => {});
  await page.waitForTimeout(700);
};

await page.goto(`${address}/sign-in`);
await page.getByRole("button", { name: "Look around with the demo data" }).click();
await page.waitForURL("**/studies");

const views = {
  studies: () => page.goto(`${address}/studies`),
  plan: async () => {
    await page.goto(`${address}/studies/grey-ferry/plan`);
    await page.getByRole("button", { name: /^Bracket:/ }).click();
  },
  many: async () => {
    await page.goto(`${address}/studies/grey-ferry/plan`);
    await page.getByRole("button", { name: "200 at once" }).click();
    await page.locator("[data-balance]").waitFor();
  },
  order: async () => {
    await page.goto(`${address}/studies/grey-ferry/plan`);
    await page.locator('[data-part-row="Thin mist"] [data-part]').click();
    await page.locator("[data-tick]").nth(40).hover();
  },
  compose: async () => {
    await page.goto(`${study}/compose`);
    await page.locator('[data-scene-button="flock"]').click();
    await page.getByRole("button", { name: "middle bird" }).first().click();
  },
  stage: async () => {
    await page.goto(`${study}/compose`);
    await page.locator('[data-scene-button="flock"]').dblclick();
    await page.getByRole("button", { name: "middle bird", exact: true }).click();
    await page.getByRole("application").focus();
  },
  timing: () => page.goto(`${study}/results?tab=timing`),
  goodbye: async () => {
    await page.goto(`${study}/plan`);
    await page.getByRole("button", { name: "From link to goodbye" }).click();
  },
  crossing: async () => {
    await page.goto(`${study}/compose`);
    await page.getByRole("button", { name: "Cross factors" }).click();
    await page.getByLabel("Levels of neighbours").fill("with, against, none, mixed");
  },
  media: async () => {
    await page.goto(`${study}/compose`);
    await page.getByRole("button", { name: "Media" }).click();
    await page.getByRole("button", { name: "wader-knot.svg" }).click();
  },
  history: async () => {
    await page.goto(`${study}/compose`);
    await page.getByRole("button", { name: "History" }).click();
    await page.getByLabel("Name of this version").fill("as piloted");
    await page.keyboard.press("Enter");
    await page.waitForTimeout(600);
    await page.keyboard.press("Escape");
    await page.locator('[data-scene-button="flock"]').click();
    await page.getByLabel("Duration in milliseconds").fill("120");
    await page.locator('[data-save="saved"]').waitFor();
    await page.getByRole("button", { name: "History" }).click();
    await page.locator("[data-changes]").getByText("150 ms").waitFor();
    await page.screenshot({ path: `${folder}/history.png` });
    await page.keyboard.press("Escape");
    await page.getByRole("button", { name: /^Undo/ }).click();
    await page.getByRole("button", { name: "History" }).click();
  },
  page: async () => {
    await page.goto(`${study}/compose`);
    await page.getByRole("button", { name: /^Part:/ }).click();
    await page.getByRole("menuitem", { name: "How to answer" }).click();
  },
  rehearse: async () => {
    await page.goto(`${study}/rehearse`);
    await page.locator("[data-tick]").first().waitFor();
    const [played] = await Promise.all([
      context.waitForEvent("page"),
      page.getByRole("button", { name: "Play in a new tab" }).click(),
    ]);
    for (const name of ["I agree and take part", "Try it"]) await played.getByRole("button", { name }).click();
    for (let trial = 1; trial <= 5; trial++) {
      await played.waitForFunction(
        (wanted) =>
          document.querySelector("#stage")?.dataset.scene === "flock" &&
          document.querySelector("#stage")?.dataset.trial === String(wanted),
        trial,
        { polling: "raf" },
      );
      await played.waitForTimeout(300);
      await played.keyboard.press(trial % 2 ? "f" : "j");
    }
    await played.waitForTimeout(2500);
    await played.close();
    await page.bringToFront();
    await page.waitForTimeout(2000);
  },
  collect: () => page.goto(`${study}/collect`),
  results: () => page.goto(`${study}/results`),
  records: () => page.goto(`${study}/results?tab=records`),
  entry: () => page.goto(`${address}/join/demo-waders`),
  trial: async () => {
    await page.goto(`${address}/join/demo-waders`);
    for (const name of ["Start", "I agree and take part", "Try it"]) await page.getByRole("button", { name }).click();
    await page.locator('[data-scene="flock"]').waitFor({ state: "attached" });
  },
};
for (const [name, go] of Object.entries(views)) {
  if (only.length > 0 && !only.includes(name)) continue;
  await go();
  if (name !== "trial") await settle();
  if (name !== "history") await page.screenshot({ path: `${folder}/${name}.png` });
}
await browser.close();
