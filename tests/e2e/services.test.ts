import type { Browser, Page } from "playwright-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { startTryService, type TryService } from "~/cli/try-service";
import type { ActionOf } from "~/core/rules/action";
import { boats, keys } from "../support/boats";
import { launch, lookAround, newStudyInCompose, openWindow, saved, storedStudy } from "../support/browser";
import { startServer, type Running } from "../support/server";
import { exportedFrom, importReleased, press } from "../support/short-study";

let browser: Browser;
let server: Running;
let service: TryService;
/** One that no study lists. */
let other: TryService;
beforeAll(async () => {
  [browser, server, service, other] = await Promise.all([
    launch(),
    startServer({ demo: true }),
    startTryService(0),
    startTryService(0),
  ]);
});
afterAll(async () => {
  await browser.close();
  await Promise.all([server.stop(), service.stop(), other.stop()]);
});

const ask = (change: Partial<ActionOf<"ask">>): ActionOf<"ask"> => ({
  ...{ do: "ask", service: "s-sum", limitMs: 5000, otherwise: "keep" },
  sends: [{ name: "boat", value: { from: { column: "boat" } } }],
  gives: [{ name: "sum", variable: "v-sum" }],
  ...change,
});
/** Each answer asks for a sum; with `fails`, the first asks two others too, of which none answers. A trial ends when its sum has come. */
const asked = (fails: boolean) =>
  boats((block, document) => {
    const variable = (id: string, name: string) => ({ id, name, type: "number" as const, start: -1 });
    document.variables = [variable("v-sum", "sum_now"), variable("v-kept", "kept"), variable("v-gone", "gone")];
    document.services = [
      { id: "s-sum", name: "Sums", address: `${service.address}sum` },
      { id: "s-slow", name: "Slow", address: `${service.address}?wait=60000` },
      { id: "s-broken", name: "Broken", address: `${service.address}?status=503` },
    ];
    const when = { on: "answer" as const, how: "given" as const };
    block.rules = [
      { id: "r-sum", name: "", when, do: [ask({})] },
      {
        ...{ id: "r-fail", name: "", when, ...(fails ? {} : { off: true as const }) },
        if: { left: { from: { column: "boat" } }, is: "=", right: 1 },
        do: [
          ask({ service: "s-slow", limitMs: 150, gives: [{ name: "sum", variable: "v-kept" }] }),
          ask({ service: "s-broken", gives: [{ name: "sum", variable: "v-gone" }], otherwise: "empty" }),
        ],
      },
      {
        ...{ id: "r-come", name: "", when: { on: "variable", variable: "v-sum" } },
        do: [{ do: "end-trial" }],
      },
    ];
    const target = block.scenes.find(({ name }) => name === "target")!;
    target.lasts = { kind: "ms", ms: 60_000 };
    block.answers[0]!.onAnswer = "stay";
  });

async function begun(link: string): Promise<Page> {
  const { page } = await openWindow(browser);
  await page.goto(link);
  await press(page, "Start");
  await press(page, "Continue");
  return page;
}

describe("a service", () => {
  it("is told what was chosen and nothing else, and its answers are values that are recorded; one that fails stops nothing", async () => {
    const { code, link } = importReleased(server, asked(true));
    const page = await begun(link);
    await keys(page, "fjfj");
    await press(page, "Finish");
    await page.getByText("Your completion code").waitFor();
    // Only the boat: no number, no code, no answer.
    expect(service.told).toEqual(expect.arrayContaining([{ boat: 1 }, { boat: 2 }, { boat: 3 }, { boat: 4 }]));
    for (const told of service.told) expect(Object.keys(told)).toEqual(["boat"]);
    const { "trials.csv": trials = [], "events.csv": events = [] } = await exportedFrom(server, browser, code);
    expect(trials.map((row) => row["sum_now"])).toEqual(["1", "2", "3", "4"]);
    expect(trials.at(-1)).toMatchObject({ kept: "-1", gone: "" });
    const given = events.filter(({ event }) => event === "service-gave").map(({ value }) => value);
    expect(given).toEqual(
      expect.arrayContaining([
        "Sums: sum = 1; count = 1; said = ",
        "Slow: No answer came within 150 ms.",
        "Broken: It answered with status 503.",
      ]),
    );
    await page.context().close();
  });

  it("is not asked again for what it has answered, when the session is taken up again", async () => {
    const { link } = importReleased(server, asked(false));
    const before = service.told.length;
    const page = await begun(link);
    const done = await keys(page, "fj");
    await page.locator('#stage[data-trial="3"]').waitFor();
    const told = service.told.length;
    expect(told).toBe(before + 2);
    await page.reload();
    await press(page, "Continue where you left off");
    await keys(page, "fj", done);
    await press(page, "Finish");
    await page.getByText("Your completion code").waitFor();
    expect(service.told.length).toBe(told + 2);
    await page.context().close();
  });

  it("alone can be reached from its frame, which has no right to the page", async () => {
    const { link } = importReleased(server, asked(false));
    const page = await begun(link);
    const frame = page.frameLocator('iframe[title="Services of the study"]').owner();
    const content = await (await frame.elementHandle())!.contentFrame();
    const reached = await content!.evaluate(
      async ([listed, unlisted]) => {
        const tried = (address: string) =>
          fetch(address, { method: "POST", body: "{}" }).then(
            () => "reached",
            () => "refused",
          );
        const storage = (() => {
          try {
            return String(localStorage.length);
          } catch {
            return "refused";
          }
        })();
        const parentPage = (() => {
          try {
            return String(parent.document.title);
          } catch {
            return "refused";
          }
        })();
        return [await tried(listed!), await tried(unlisted!), await tried("/healthz"), storage, parentPage];
      },
      [service.address, other.address],
    );
    expect(reached).toEqual(["reached", "refused", "refused", "refused", "refused"]);
    expect(other.told).toEqual([]);
    // With another right than its own it does not open.
    const parts = content!.url().split("/");
    parts.splice(-2, 1, "0".repeat(32));
    const status = (await page.request.get(parts.join("/"))).status();
    expect(status).toBe(404);
    await page.context().close();
  });

  it("is listed in Plan, asked by a rule that is picked, and what leaves is said before release", async () => {
    const { page } = await openWindow(browser);
    await lookAround(page, server.address);
    const code = await newStudyInCompose(page, server.address, "Asking elsewhere");
    await page.getByRole("link", { name: "Plan" }).click();
    await page.getByRole("button", { name: "variable", exact: true }).click();
    await page.getByRole("button", { name: /The study/ }).click();
    await page.getByRole("button", { name: "service", exact: true }).click();
    await page.getByLabel("Name", { exact: true }).fill("Scoring");
    const address = page.getByLabel("Address", { exact: true });
    await address.fill("nowhere");
    await page.getByText("Type an address such as", { exact: false }).waitFor();
    await address.fill("https://scores.example/ask");
    await page.getByText("what a rule tells it leaves this server", { exact: false }).waitFor();
    await page.getByRole("link", { name: "Compose" }).click();
    await page.getByRole("tab", { name: /Rules/ }).click();
    await page.getByRole("button", { name: "Add a rule" }).click();
    await page.getByRole("menuitem", { name: "A point for each right answer, one less for each wrong one" }).click();
    await page.getByRole("button", { name: "another action" }).click();
    await page.getByRole("menuitem", { name: "ask a service" }).click();
    await page.getByText("https://scores.example/ask", { exact: true }).waitFor();
    await page.getByLabel("Without an answer").selectOption({ label: "empties the variables" });
    await saved(page);
    const { parts, services } = await storedStudy(page, server.address, code);
    const rules = Object.values(parts).flatMap((part) => part.rules);
    expect(rules.flatMap((rule) => rule.do.filter((each) => each.do === "ask"))).toMatchObject([
      { do: "ask", service: services[0]!.id, otherwise: "empty", sends: [{ name: "time" }] },
    ]);
    await page.getByRole("link", { name: "Rehearse" }).click();
    await page.getByRole("tab", { name: /Preflight/ }).click();
    await page
      .getByText("It asks Scoring at https://scores.example/ask and tells it time: that leaves this server.", {
        exact: false,
      })
      .waitFor();
    await page.context().close();
  });
});
