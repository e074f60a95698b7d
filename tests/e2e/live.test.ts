import { expect, it } from "vitest";
import { boats, keys } from "~/tests/support/boats";
import { collecting, collectingScreens, oneBoat, playToEnd, visitor } from "~/tests/support/collecting";
import { exportedFrom, press } from "~/tests/support/short-study";

const screens = collectingScreens();

it("Collect tells what happens as it happens, over one connection and a line at a time", async () => {
  const { link, page } = await collecting(
    screens,
    // Nothing goes on before it is answered.
    boats((block) => {
      for (const scene of block.scenes) if (scene.name === "target") scene.lasts = { kind: "until-answer" };
    }),
  );
  const asked: string[] = [];
  page.on("request", (request) => {
    if (request.url().includes("/collect")) asked.push(request.resourceType());
  });
  const who = await visitor(screens, link);
  await press(who, "Start");
  await press(who, "Continue");
  await page.getByText("trial 1 of 4").waitFor();
  await page.locator("[data-here=boats]").waitFor();
  await keys(who, "f");
  await page.getByText("trial 2 of 4").waitFor();
  await keys(who, "j", 1);
  await page.getByText("trial 3 of 4").waitFor();
  expect(asked.filter((each) => each !== "eventsource")).toEqual([]);
  expect(asked.length).toBeLessThanOrEqual(1);
  // Whoever comes back to it after a while sees how it stands.
  await keys(who, "fj", 2);
  await press(who, "Finish");
  await page.getByText("1 started, 1 finished").waitFor();
  await page.getByText(/^median \d+\.\d min/).waitFor();
  await Promise.all([page, who].map((each) => each.context().close()));
});

it("sessions are looked for by code, state and link, and the address keeps what is asked", async () => {
  const { link, page, code } = await collecting(screens, oneBoat());
  for (const name of ["tern", "knot"]) {
    const who = await visitor(screens, `${link}?participant=${name}`);
    await playToEnd(who);
    await who.context().close();
  }
  const left = await visitor(screens, `${link}?participant=gull`);
  await press(left, "Start");
  await left.getByText("Eight boats pass.").waitFor();
  const rows = page.locator("tr[data-session-state]");
  await expect.poll(() => rows.count()).toBe(3);
  await page.getByLabel("Number or code").fill("kno");
  await expect.poll(() => rows.count()).toBe(1);
  await page.getByText("1 of 3 sessions").waitFor();
  await page.getByLabel("Number or code").fill("heron");
  await page.getByText("No session is like that.").waitFor();
  await page.getByLabel("Number or code").fill("");
  await page.getByLabel("Sessions by state").selectOption("finished");
  await expect.poll(() => rows.count()).toBe(2);
  expect(new URL(page.url()).searchParams.get("state")).toBe("finished");
  await page.reload();
  await expect.poll(() => rows.count()).toBe(2);
  await page.goto(`${screens.server.address}/studies/${code}/collect?state=nonsense&order=x&page=-3`);
  await expect.poll(() => rows.count()).toBe(3);
  await Promise.all([page, left].map((each) => each.context().close()));
});

it("one session is opened: its course and answers, notes, why it does not count, and withdrawing it for good", async () => {
  const { link, page, code } = await collecting(
    screens,
    boats(() => undefined),
  );
  const who = await visitor(screens, `${link}?participant=knot`);
  await press(who, "Start");
  await press(who, "Continue");
  await keys(who, "fjff");
  await press(who, "Finish");
  await who.context().close();
  await page.getByTitle("Open this session").click();
  await page.getByRole("heading", { name: "Participant 1" }).waitFor();
  await page.getByRole("figure", { name: "Course in time" }).waitFor();
  const answers = page.getByRole("table", { name: "What was answered" }).locator("tbody tr");
  await expect.poll(() => answers.count()).toBe(4);
  expect((await answers.allInnerTexts()).map((line) => line.split("\t").at(-1))).toEqual([
    ...["right", "right", "right", "wrong"],
  ]);
  await page.getByLabel("A note").fill("Came ten minutes late.");
  await press(page, "Add the note");
  await page.getByText("Came ten minutes late.").waitFor();
  await expect.poll(() => page.getByLabel("A note").inputValue()).toBe("");
  await page.getByLabel("Why it should not count").fill("Looked at the neighbour's screen");
  await press(page, "Do not count it");
  await page.getByText("Does not count: Looked at the neighbour's screen").waitFor();
  const files = await exportedFrom(screens.server, screens.browser, code);
  expect(files["sessions.csv"]?.[0]).toMatchObject({
    ...{ counts: "no", left_out_because: "Looked at the neighbour's screen" },
  });
  // What the team noted is no data of the study.
  expect(JSON.stringify(files)).not.toContain("ten minutes late");
  await press(page, "Count it again");
  await page.getByLabel("Why it should not count").waitFor();
  await press(page, "Withdraw: delete this session");
  await press(page, "Keep it");
  await press(page, "Withdraw: delete this session");
  await press(page, "Delete for good");
  await page.getByText("No one has taken part yet.").waitFor();
  await page.context().close();
});

it("where the server is away what is typed stays, is said to be unsent, and can be sent again", async () => {
  const { link, page, code } = await collecting(screens, oneBoat());
  const who = await visitor(screens, link);
  await playToEnd(who);
  await page.getByRole("link", { name: "1", exact: true }).click();
  await page.getByLabel("A note").fill("The tide was loud.");
  await page.route("**/*.data*", (route) => route.abort());
  await page.getByRole("button", { name: "Add the note" }).click();
  await page.getByText("The server cannot be reached. What you typed is still here: try again.").first().waitFor();
  expect(await page.getByLabel("A note").inputValue()).toBe("The tide was loud.");
  await page.unroute("**/*.data*");
  await page.getByRole("button", { name: "Add the note" }).click();
  await page.getByText(/^The tide was loud\./).waitFor();
  await expect.poll(() => page.getByLabel("A note").inputValue()).toBe("");

  // The same where it is asked of the page of people: the page does not fall away.
  await page.goto(`${screens.server.address}/studies/${code}/people`);
  await page.getByLabel("What the key is for").fill("nightly script");
  await page.route("**/*.data*", (route) => route.abort());
  await page.getByRole("button", { name: "Make a key" }).click();
  await page.getByText("The server cannot be reached.").first().waitFor();
  expect(await page.getByLabel("What the key is for").inputValue()).toBe("nightly script");
  await Promise.all([page, who].map((each) => each.context().close()));
});
