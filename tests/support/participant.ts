import type { Frame, Page } from "playwright-core";

export type Pressed = { trial: number; key: string; rt: number };

/** Waits until the stage shows this scene in another trial than the one given; gives the trial's number. */
export async function scene(page: Page | Frame, name: string, after = 0): Promise<number> {
  const handle = await page.waitForFunction(
    ([wanted, before]) => {
      const stage = document.querySelector<HTMLElement>("#stage");
      return stage?.dataset.scene === wanted && Number(stage.dataset.trial) > Number(before)
        ? Number(stage.dataset.trial)
        : false;
    },
    [name, after] as const,
    { polling: "raf", timeout: 30_000 },
  );
  return (await handle.jsonValue()) as number;
}

/** Notes every key's own time against the frame in which the scene came on, independently of the player's own records. */
export const watchKeys = (page: Page, sceneName: string): Promise<void> =>
  page.evaluate((wanted) => {
    const seen: { trial: number; key: string; rt: number }[] = [];
    let onset = 0;
    let trial = "";
    const stage = document.querySelector<HTMLElement>("#stage");
    if (!stage) throw new Error("no stage");
    let frame = 0;
    const tick = (stamp: number) => {
      frame = stamp;
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
    new MutationObserver(() => {
      if (stage.dataset.scene === wanted && stage.dataset.trial !== trial) {
        trial = stage.dataset.trial ?? "";
        onset = frame;
      }
    }).observe(stage, { attributes: true });
    addEventListener(
      "keydown",
      (event: Event) =>
        event instanceof KeyboardEvent &&
        seen.push({ trial: Number(trial), key: event.key, rt: event.timeStamp - onset }),
      true,
    );
    (globalThis as unknown as { seenKeys: typeof seen }).seenKeys = seen;
  }, sceneName);

export const seenKeys = (page: Page): Promise<Pressed[]> =>
  page.evaluate(() => (globalThis as unknown as { seenKeys: Pressed[] }).seenKeys);
