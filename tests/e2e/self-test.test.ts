import { expect, it } from "vitest";
import { withScreens } from "../support/screens";

const screens = withScreens();

it("a computer is tested with a square for a light sensor, told what it can do, and kept with the date", async () => {
  const { page, server } = screens;
  await page.goto(`${server.address}/self-test?seconds=6`);
  expect(await page.evaluate(() => crossOriginIsolated)).toBe(true);
  await page.getByRole("button", { name: "Run the test" }).click();
  await page.getByRole("alert").getByText("Say which computer this is").waitFor();
  await page.getByLabel("Which computer is this?").fill("lab 2, by the window");
  await page.getByLabel("Corner of the square").selectOption("lower-right");
  await page.getByLabel("Side of the square in pixels").fill("60");
  await page.getByRole("button", { name: "Run the test" }).click();
  const light = page.locator("[data-light]");
  await light.waitFor();
  const box = await light.boundingBox();
  expect(box && [box.width, box.height, Math.round(box.x + box.width), Math.round(box.y + box.height)]).toEqual([
    60, 60, 1280, 800,
  ]);
  // The square is white exactly while a flash is on.
  const together = await page.evaluate(
    () =>
      new Promise<string[]>((resolve) => {
        const seen = new Set<string>();
        const stop = performance.now() + 2500;
        const look = () => {
          const flash = document.querySelector<HTMLElement>("[data-scene]")?.dataset.scene === "flash";
          const white =
            getComputedStyle(document.querySelector("[data-light]") as Element).backgroundColor ===
            "rgb(255, 255, 255)";
          seen.add(`${flash ? "flash" : "no flash"}, ${white ? "white" : "black"}`);
          if (performance.now() < stop) requestAnimationFrame(look);
          else resolve([...seen].sort());
        };
        look();
      }),
  );
  expect(together).toEqual(["flash, white", "no flash, black"]);
  // Also where it is pressed between two trials, the key never reaches what lies below the test.
  for (let press = 0; press < 60; press++) {
    await page.keyboard.press("Space", { delay: 10 });
    await page.waitForTimeout(7);
  }
  const row = page.locator("[data-tests] tbody tr").first();
  await row.waitFor({ timeout: 20_000 });
  const cells = await row.locator("td").allInnerTexts();
  expect(cells[1]).toBe("lab 2, by the window");
  expect(Number(/of (\d+)$/.exec(cells[3] ?? "")?.[1])).toBeGreaterThan(3);
  expect(Number(cells[5])).toBe(60);
  expect(cells[8]).toBe("lower right, 60 px");
  await page.reload();
  await page.locator("[data-verdict]").getByText("timed scenes").waitFor();
});
