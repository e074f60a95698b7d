import { expect, it } from "vitest";
import type { TrialRecord } from "~/core/records/record";
import type { StoredSession } from "~/server/shown-session";
import { boats, keys } from "~/tests/support/boats";
import { collecting, collectingScreens, visitor } from "~/tests/support/collecting";
import { question } from "~/tests/support/forms";
import { press } from "~/tests/support/short-study";

const screens = collectingScreens();

/** A page that asks, then four boats; a lamp comes on 150 ms after each wait began. */
const study = () =>
  boats((block, document) => {
    const options = ["gull", "tern"].map((id) => ({ id, label: id }));
    const page = document.parts["hello"];
    if (page?.kind === "page") page.flow.push(question("one-of", "bird", { options, need: "must" }));
    const [text] = block.scenes[1]!.items;
    block.scenes[0]!.lasts = { kind: "ms", ms: 400 };
    block.scenes[0]!.items = [{ ...text!, id: "lamp", name: "lamp", begins: 150 }];
    block.scenes[1]!.lasts = { kind: "until-answer" };
  });

it("what a participant saw is shown again from the records: pages as they were answered, scenes as they came", async () => {
  const { link, page, code } = await collecting(screens, study());
  const who = await visitor(screens, link);
  await press(who, "Start");
  await who.getByRole("radio", { name: "tern" }).check();
  await press(who, "Continue");
  await keys(who, "fjjf");
  await press(who, "Finish");
  await who.getByText("Your completion code").waitFor();
  await who.context().close();

  await page.getByTitle("Open this session").click();
  await press(page, "Show what was seen");
  await press(page, "Stop here");
  const address = `${screens.server.address}/studies/${code}/sessions/${page.url().split("/").at(-1)}/shown`;
  const { records } = (await (await page.request.get(address)).json()) as StoredSession;
  const hello = records[0]!;
  const third = records.find((each): each is TrialRecord => each.kind === "trial" && each.trial === 3)!;
  if (hello.kind !== "page") throw new Error("the first record is no page");
  const frame = page.frameLocator('iframe[title="What the participant saw"]');
  const seen = page.locator("[data-seen]");
  /** Goes to the first hundredth of a second that is not before a time. */
  const goTo = (at: number) => page.getByLabel("Time in the session").fill(String(Math.ceil(at / 10) * 10));

  // The window is as large inside as the participant's was.
  await expect
    .poll(() =>
      page
        .frames()
        .at(-1)
        ?.evaluate(() => [innerWidth, innerHeight].map((size) => Math.round(size / 10))),
    )
    .toEqual([128, 80]);
  await goTo(hello.shown);
  await seen.getByText("Page Hello").waitFor();
  await expect.poll(() => frame.getByRole("radio", { name: "tern" }).isChecked()).toBe(false);
  await goTo(hello.answers![0]!.last!);
  await expect.poll(() => frame.getByRole("radio", { name: "tern" }).isChecked()).toBe(true);

  await goTo(third.scenes[0]!.onset);
  await seen.getByText("Boats, trial 3, wait").waitFor();
  const lamp = frame.locator('.scene.shown [data-item="lamp"]');
  await expect.poll(() => lamp.getAttribute("class")).toContain("waiting");
  await goTo(third.observed.find(({ what }) => what === "began")!.at);
  await expect.poll(() => lamp.getAttribute("class")).not.toContain("waiting");
  const { given } = third.answers[0]!;
  await goTo(given!.at);
  await expect.poll(() => frame.locator(".scene.shown .text").innerText()).toBe("Boat 3");
  await seen.getByText(`answer: j after ${Math.round(given!.rt)} ms, wrong`).waitFor();

  await press(page, "To the next trial or page");
  await seen.getByText("Boats, trial 4, wait").waitFor();
  await press(page, "Back to the trial or page before");
  await seen.getByText("Boats, trial 3, wait").waitFor();
  await press(page, "To the beginning");
  await seen.getByText("Page Hello").waitFor();
  await page.getByLabel("Speed").selectOption("20 times as fast");
  await press(page, "Go on");
  await page.getByRole("button", { name: "Go on" }).waitFor();
  await seen.getByText("Nothing of the study").waitFor();
  await page.context().close();
});
