import type { BrowserContextOptions } from "playwright-core";
import { describe, expect, it } from "vitest";
import { choose, collecting, collectingScreens, playToEnd, stored, visitor } from "~/tests/support/collecting";
import { press } from "~/tests/support/short-study";

const screens = collectingScreens();
const phone: BrowserContextOptions = {
  ...{ viewport: { width: 390, height: 760 }, screen: { width: 390, height: 844 } },
  ...{ hasTouch: true, isMobile: true },
};
const tablet: BrowserContextOptions = {
  ...{ viewport: { width: 820, height: 1100 }, screen: { width: 820, height: 1180 } },
  ...{ hasTouch: true, isMobile: true },
};
/** The entry page on another device. */
async function on(device: BrowserContextOptions, link: string) {
  const page = await (await screens.browser.newContext(device)).newPage();
  await page.goto(link);
  return page;
}

describe("on what a link can be taken part by", () => {
  it("is a kind of device: others are told on which, in the study's words or its own, and only counted", async () => {
    const { link, page, panel } = await collecting(screens);
    await page.getByRole("button", { name: "On what: any device" }).click();
    const chosen = page.getByRole("group", { name: "On what one can take part" });
    await stored(page, () => chosen.getByLabel("Device").selectOption("a computer or a tablet"));
    await page.getByRole("button", { name: "On what: a computer or a tablet" }).waitFor();
    const small = await on(phone, link);
    await small
      .getByText("This study cannot be done on this device. Open the link on one of these: computer, tablet.")
      .waitFor();
    await expect.poll(() => small.getByRole("button").count()).toBe(0);
    // Loaded again, it is still the same window.
    await small.reload();
    await small.getByText("This study cannot be done on this device.").waitFor();
    const large = await on(tablet, link);
    await large.getByRole("button", { name: "Start", exact: true }).waitFor();
    await panel.getByText("turned away: 1 for their device").waitFor();
    await panel.getByText("0 started, 0 finished").waitFor();
    await press(page, "What is said to those who cannot begin");
    await page.getByLabel("On a device or browser that cannot be used").fill("Come to the harbour office instead.");
    await stored(page, () => page.getByLabel("On a device or browser that cannot be used").blur());
    await small.reload();
    await small.getByText("Come to the harbour office instead.").waitFor();
    await Promise.all([page, small, large].map((each) => each.context().close()));
  });

  it("is a keyboard that somebody presses, a mouse, or a touch screen", async () => {
    const { link, page, panel } = await collecting(screens);
    await page.getByRole("button", { name: /^On what/ }).click();
    const chosen = page.getByRole("group", { name: "On what one can take part" });
    await stored(page, () => chosen.getByLabel("To answer with").selectOption("a keyboard"));
    const has = await visitor(screens, link);
    await has.getByText("This study needs a keyboard. Press the space bar.").waitFor();
    await has.keyboard.press("Space");
    await has.getByRole("button", { name: "Start", exact: true }).waitFor();
    const has_not = await visitor(screens, link);
    await press(has_not, "I have no keyboard");
    await has_not.getByText("Open the link on a computer with a keyboard.").waitFor();
    await panel.getByText("turned away: 1 for their input").waitFor();
    await stored(page, () => chosen.getByLabel("To answer with").selectOption("a touch screen"));
    await has.reload();
    await has.getByText("This study needs a screen that can be touched.").waitFor();
    const touched = await on(phone, link);
    await touched.getByRole("button", { name: "Start", exact: true }).waitFor();
    await stored(page, () => chosen.getByLabel("To answer with").selectOption("a mouse or touchpad"));
    await touched.reload();
    await touched.getByText("This study needs a mouse or a touchpad.").waitFor();
    await Promise.all([page, has, has_not, touched].map((each) => each.context().close()));
  });

  it("is a window that is large enough, and a browser that is seen to be able", async () => {
    const { link, page, panel } = await collecting(screens);
    await page.getByRole("button", { name: /^On what/ }).click();
    const chosen = page.getByRole("group", { name: "On what one can take part" });
    await stored(page, () => chosen.getByLabel("Window").selectOption("of at least"));
    await stored(page, () => chosen.getByLabel("Least width").fill("900"));
    await stored(page, () => chosen.getByLabel("Browser").selectOption("one that is seen to be able"));
    const small = await on({ viewport: { width: 899, height: 760 } }, link);
    await small.getByText("it needs 900 × 700 and has 899 × 760").waitFor();
    await panel.getByText("turned away: 1 for their window").waitFor();
    await small.setViewportSize({ width: 900, height: 700 });
    await small.getByRole("button", { name: "Start", exact: true }).waitFor();
    // A clock that only tells tenths of a second is too coarse.
    const context = await screens.browser.newContext();
    await context.addInitScript(() => {
      const fine = performance.now.bind(performance);
      performance.now = () => Math.floor(fine() / 100) * 100;
    });
    const coarse = await context.newPage();
    await coarse.goto(link);
    await coarse.getByText("This browser cannot show the study as it should be shown.").waitFor();
    await panel.getByText("1 for their browser").waitFor();
    await Promise.all([page, small, coarse].map((each) => each.context().close()));
  });
});

describe("who and how often", () => {
  it("can be once per code: the code is asked for, and whoever has used theirs reads so", async () => {
    const { link, page } = await collecting(screens);
    await choose(page, /^How often/, "once per code, which is asked for");
    const first = await visitor(screens, link);
    await press(first, "Start");
    await first.getByText("Type the code you were given").waitFor();
    await first.getByLabel("Your code").fill("knot-7");
    await playToEnd(first);
    const again = await visitor(screens, link);
    await again.getByLabel("Your code").fill("knot-7");
    await press(again, "Start");
    await again.getByText("You have taken part in this study already.").waitFor();
    const other = await visitor(screens, `${link}?participant=tern-2`);
    await playToEnd(other);
    await Promise.all([page, first, again, other].map((each) => each.context().close()));
  });

  it("can be the team only, as a pilot", async () => {
    const { link, page } = await collecting(screens);
    await choose(page, /^Who may take part/, /^Only the team/);
    const stranger = await visitor(screens, link);
    await stranger.getByText("This link is for the team of the study only.").waitFor();
    const mine = await page.context().newPage();
    await mine.goto(link);
    await playToEnd(mine);
    await mine.locator(".pilot").waitFor();
    await page.getByText("pilot").first().waitFor();
    await page.getByText("0 started, 0 finished").waitFor();
    await Promise.all([page, stranger].map((each) => each.context().close()));
  });

  it("can be a limit to how long it takes", async () => {
    const { link, page } = await collecting(screens);
    await choose(page, /^How long a session may take/, /so many minutes/);
    await stored(page, () => page.getByLabel("Minutes after they began").fill("45"));
    await page.reload();
    await expect.poll(() => page.getByLabel("Minutes after they began").inputValue()).toBe("45");
    const who = await visitor(screens, link);
    await playToEnd(who);
    await Promise.all([page, who].map((each) => each.context().close()));
  });
});
