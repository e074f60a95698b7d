// Takes one picture of each main view, made from fresh demo data, into docs/screenshots/ (or the folder given).
// Use: node scripts/screenshots.mjs ADDRESS [FOLDER] [VIEW ...], with the demo running at ADDRESS.
import { chromium } from "playwright-core";
import { spawn } from "node:child_process";
import { mkdirSync, mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

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
/** From the entry page of the demonstration, with the key that it asks for, to its loading. */
const start = async (window) => {
  await window.getByRole("button", { name: "Start" }).click();
  await window.getByText("Press the space bar").waitFor();
  await window.keyboard.press("Space");
};
/** Takes part, and reads how to answer. */
const consent = async (window) => {
  await window.getByRole("checkbox", { name: "I have read this" }).check();
  for (const name of ["Begin", "Try it"]) await window.getByRole("button", { name }).click();
};
/** The same up to its first trial. */
const begin = async (window) => {
  await start(window);
  await consent(window);
};
const settle = async () => {
  await page.waitForLoadState("networkidle", { timeout: 3000 }).catch(() => {});
  await page.waitForTimeout(700);
};

await page.goto(`${address}/sign-in`);
await page.getByRole("button", { name: "Look around with the demo data" }).click();
await page.waitForURL("**/studies");

/** What is stopped once all pictures are taken. */
const after = [];
const views = {
  studies: () => page.goto(`${address}/studies`),
  plan: async () => {
    await page.goto(`${address}/studies/grey-ferry/plan`);
    await page.getByRole("button", { name: /^Bracket:/ }).click();
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
  privacy: () => page.goto(`${study}/privacy?who=9`),
  rules: async () => {
    await page.goto(`${address}/studies/grey-ferry/compose`);
    await page.getByRole("button", { name: /^Part:/ }).click();
    await page.getByRole("menuitem", { name: "Practice" }).click();
    await page.getByRole("tab", { name: /^Rules/ }).click();
    await page.getByRole("button", { name: "Settings of rule 3" }).click();
  },
  form: async () => {
    await page.goto(`${study}/compose`);
    await page.getByRole("button", { name: /^Part:/ }).click();
    await page.getByRole("menuitem", { name: "How it went" }).click();
    await page.locator('[data-question-card="effort"] div').first().click();
    const live = page.frameLocator('iframe[title="How participants see How it went"]');
    await live.locator('[data-question="effort"]').getByRole("radio").nth(4).check();
    await live.locator('[data-question="noticed"]').getByRole("radio", { name: "yes" }).check();
  },
  answers: () => page.goto(`${address}/studies/copper-ladle/results?tab=answers&by=group`),
  rehearse: async () => {
    await page.goto(`${study}/rehearse`);
    await page.locator("[data-tick]").first().waitFor();
    const [played] = await Promise.all([
      context.waitForEvent("page"),
      page.getByRole("button", { name: "Play in a new tab" }).click(),
    ]);
    await consent(played);
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
  collect: async () => {
    await page.goto(`${study}/collect`);
    await page.getByRole("button", { name: "Wave", exact: true }).click();
    await page.getByLabel("What it is called").fill("Teaching lab, November");
    await page.getByRole("button", { name: "Make the wave" }).click();
    await page.getByRole("group", { name: "Waves" }).getByRole("button", { name: "First wave", exact: true }).click();
    await page.getByText("24 finished", { exact: true }).waitFor();
    const choose = async (label, says) => {
      await page.getByRole("button", { name: label }).first().click();
      await page.getByRole("menuitem", { name: says }).click();
      await settle();
    };
    await choose(/^How often/, "once per browser");
    await choose(/^Going on/, "go on the same day");
    await page.getByRole("button", { name: "Links for one person each" }).click();
    await page.getByLabel("What they are called together").fill("Students of course B");
    await page.getByLabel("so many, numbered").check();
    await page.getByRole("button", { name: "Make the links" }).click();
    await page.getByRole("group", { name: "Students of course B" }).waitFor();
  },
  results: async () => {
    await page.goto(`${study}/results?across=neighbours&from=against&less=with&tests=yes`);
    const add = async (sort, called) => {
      await page.getByRole("button", { name: `Rule for ${sort}` }).click();
      await page.getByRole("menuitem", { name: called, exact: true }).click();
    };
    // The demo data are made anew for the pictures: there are no rules of an earlier round.
    if ((await page.locator('[data-rule="not-finished"]').count()) === 0) {
      await add("sessions", "Not finished");
      await add("sessions", "Few right answers");
      await add("trials", "Too fast");
      await add("trials", "Far from the middle");
      await page.getByText("median absolute deviations", { exact: false }).waitFor();
    }
    await page
      .locator('[data-rule="beyond"] button[aria-expanded="true"]')
      .click()
      .catch(() => {});
  },
  distributions: async () => {
    await page.goto(`${study}/results?tab=distributions`);
    await page.locator("svg.recharts-surface path.recharts-line-curve").first().waitFor();
  },
  scores: async () => {
    await page.goto(`${study}/results?tab=scores`);
    const there = page.getByRole("button", { name: /^cost/ });
    if ((await there.count()) === 0) {
      await page.getByRole("button", { name: "New", exact: true }).click();
      await page.getByLabel("Name", { exact: true }).fill("cost");
      await page.getByRole("button", { name: "Make it" }).click();
      await page.getByRole("region", { name: "Norm samples" }).waitFor();
      await page.getByRole("button", { name: "Add", exact: true }).click();
      await page.getByRole("menuitem", { name: /sessions kept now/ }).click();
      await page.getByRole("button", { name: "Add it" }).click();
      await page.getByText("in use").waitFor();
    }
  },
  // A recipe is made where there is none of an earlier round.
  export: async () => {
    await page.goto(`${study}/results?tab=export`);
    const name = "Means and cost, a row a person";
    const card = page.getByRole("button", { name: new RegExp(`^${name}`) });
    if ((await card.count()) === 0) {
      await page.getByRole("button", { name: "New", exact: true }).click();
      await page.getByRole("menuitem", { name: "A row for each person", exact: true }).click();
      await page.getByLabel("Name", { exact: true }).fill(name);
      await page.getByRole("button", { name: "Make it" }).click();
      await page.getByRole("button", { name: "Add difference" }).click();
      await page.getByLabel("Name of column 9", { exact: true }).fill("cost");
      const choose = async (label, says) => {
        await page.getByRole("button", { name: new RegExp(`^${label}: `) }).click();
        await page.getByRole("menuitem", { name: says }).click();
      };
      await choose("Format", /system file/);
      await page.getByRole("button", { name: "cost earlier" }).click();
    } else await card.click();
    await page.locator("[data-preview]").waitFor();
    await page.getByText("Saved", { exact: true }).waitFor();
  },
  // Who works on a study, and the list of its laboratory, in one picture.
  team: async () => {
    const shots = [];
    for (const at of ["people", "laboratory"]) {
      await page.goto(`${study}/${at}`);
      const wave = page.getByLabel("Wave", { exact: true });
      if ((await wave.count()) > 0) await wave.selectOption({ label: "First wave" });
      await settle();
      shots.push((await page.screenshot()).toString("base64"));
    }
    await page.setContent(
      `<body style="margin:0;background:#d9d4c6;display:grid;gap:8px;padding:8px;box-sizing:border-box;justify-content:center">${shots
        .map((shot) => `<img style="height:388px;display:block" src="data:image/png;base64,${shot}">`)
        .join("")}</body>`,
    );
  },
  // Four of the participant's pages in one picture: loading and a pause of the demo study, entry and ending in Arabic.
  participants: async () => {
    const shots = [];
    const small = { width: 860, height: 540 };
    const at = async (go) => {
      const fresh = await browser.newContext({ viewport: small });
      const each = await fresh.newPage();
      await go(each);
      await each.waitForTimeout(400);
      shots.push((await each.screenshot()).toString("base64"));
      await fresh.close();
    };
    await at(async (each) => {
      let seen = 0;
      await each.route("**/api/session/media/**", (route) => (++seen < 2 ? route.continue() : undefined));
      await each.goto(`${address}/join/demo-waders`);
      await start(each);
      await each.locator(".loading").waitFor();
    });
    await at(async (each) => {
      await each.goto(`${address}/join/demo-waders`);
      await begin(each);
      await each.locator('[data-scene="flock"]').waitFor({ state: "attached" });
      await each.evaluate(() => globalThis.dispatchEvent(new globalThis.Event("blur")));
      await each.locator(".over button").first().waitFor();
    });
    await page.goto(`${address}/studies`);
    await page.getByLabel("Study file").setInputFiles("tests/support/eight-trials.lapwing.json");
    await page.waitForURL("**/plan");
    await page.getByRole("button", { name: "From link to goodbye" }).click();
    await page.getByLabel("Language of participants’ pages").selectOption("ar");
    await page
      .getByLabel("Said on the entry page")
      .fill("ثمانية قوارب تمر أمامك. اضغط على المفتاح عند كل قارب.\nيستغرق ذلك دقيقة واحدة.");
    await page.getByLabel("Who answers participants’ questions").fill("harbour@lapwing.example");
    await page.locator('[data-save="saved"]').waitFor();
    await page.keyboard.press("Escape");
    await page.goto(page.url().replace("/plan", "/collect"));
    await page.getByRole("button", { name: "Release this version" }).click();
    await page.getByRole("button", { name: "Release it" }).click();
    const link = await page
      .getByText(/\/join\//)
      .first()
      .textContent();
    await at((each) => each.goto(link));
    await at(async (each) => {
      await each.goto(link);
      await each.getByRole("button").click();
      await each.getByRole("button", { name: "Continue" }).click();
      await each.route("**/api/session/records", (route) => route.abort());
      await each.getByRole("button", { name: "Finish" }).click({ timeout: 60_000 });
      await each.locator("progress ~ .buttons button").waitFor({ timeout: 40_000 });
    });
    await page.setContent(
      `<body style="margin:0;background:#d9d4c6;display:grid;grid-template-columns:1fr 1fr;gap:8px;padding:8px;box-sizing:border-box;height:100vh">${shots
        .map((shot) => `<img style="width:100%;display:block" src="data:image/png;base64,${shot}">`)
        .join("")}</body>`,
    );
  },
  // With a bridge and stand-ins for an amplifier and an eye tracker, all on ports of their own.
  laboratory: async () => {
    const folder = mkdtempSync(join(tmpdir(), "lapwing-pictures-"));
    const run = (...args) => spawn("node", ["build/node/cli.js", ...args], { stdio: ["ignore", "pipe", "inherit"] });
    const bridge = run("bridge", "--port", "7721", "--folder", folder);
    const amplifier = run("amplifier", "--port", "7722");
    const tracker = run("tracker", "--port", "7724");
    let said = "";
    bridge.stdout.on("data", (bytes) => (said += bytes));
    while (!said.includes("Code")) await page.waitForTimeout(50);
    await page.goto(`${study}/laboratory`);
    await page.getByLabel("Port", { exact: true }).fill("7721");
    await page.getByRole("button", { name: "Look for the bridge" }).click();
    await page.getByLabel("Code").fill(/Code[^:]*: ([\d ]+)/.exec(said)[1]);
    await page.getByRole("button", { name: "Pair" }).click();
    for (const [name, port, is, by] of [
      ["Eye tracker", "7724", "tracker", "lines"],
      ["Marker line", "7722", "line", "tcp"],
      ["Light sensor", "7723", "line", "tcp"],
    ]) {
      await page.getByRole("button", { name: "Device" }).click();
      await page.getByRole("dialog").getByLabel("What it is").selectOption(is);
      await page.getByRole("dialog").getByLabel("Name").fill(name);
      await page.getByRole("dialog").getByLabel("Reached by").selectOption(by);
      await page.getByRole("dialog").getByLabel("Port").fill(port);
      await page.getByRole("button", { name: "Add it" }).click();
      await page.getByRole("group", { name }).getByRole("button", { name: "Test" }).click();
    }
    await page.getByText("nothing listens").waitFor();
    await page.getByText("samples a second").waitFor();
    after.push(() => [bridge, amplifier, tracker].forEach((each) => each.kill()));
  },
};
for (const [name, go] of Object.entries(views)) {
  if (only.length > 0 && !only.includes(name)) continue;
  await go();
  await settle();
  await page.screenshot({ path: `${folder}/${name}.png` });
}
await browser.close();
for (const stop of after) stop();
