import type { Page } from "playwright-core";

/** A scene as the recorder saw it: by the frames of the page, without asking the player. */
export type SeenScene = { trial: number; scene: string; onset: number; end: number };
export type SeenKey = { stamp: number; handled: number; trial: number };
type Seen = { scenes: SeenScene[]; keys: SeenKey[]; frames: number[]; onsets: Record<number, number> };

/**
 * Puts a recorder into a page before any of its scripts: it notes the stamp of every frame, which scene the stage shows in
 * it, and every key event by its own time.
 */
export const watchPage = async (page: Page): Promise<void> => {
  await page.addInitScript(() => {
    const seen: Seen = { scenes: [], keys: [], frames: [], onsets: {} };
    (globalThis as unknown as { seen: Seen }).seen = seen;
    let stamp = 0;
    let present: SeenScene | null = null;
    const tick = (now: number) => {
      stamp = now;
      seen.frames.push(now);
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
    addEventListener(
      "keydown",
      (event) => {
        if (event instanceof KeyboardEvent && !event.repeat)
          seen.keys.push({ stamp: event.timeStamp, handled: performance.now(), trial: present?.trial ?? 0 });
      },
      true,
    );
    // Told after the frame's own callbacks, so within the frame in which the scene changed.
    const changed = (stage: HTMLElement) => {
      const { scene, trial } = stage.dataset;
      if (present && (present.scene !== scene || present.trial !== Number(trial))) {
        present.end = stamp;
        seen.scenes.push(present);
        present = null;
      }
      if (scene !== undefined && present === null) present = { trial: Number(trial), scene, onset: stamp, end: 0 };
      if (scene === "target" && present?.onset === stamp) seen.onsets[Number(trial)] = stamp;
    };
    const begin = () => {
      const stage = document.getElementById("stage");
      if (stage) new MutationObserver(() => changed(stage)).observe(stage, { attributes: true });
    };
    document.addEventListener("DOMContentLoaded", begin);
  });
};

export const seenIn = (page: Page): Promise<Seen> =>
  page.evaluate(() => (globalThis as unknown as { seen: Seen }).seen);

/** Loads files over and over while the page is used, past the browser's own store, as media of other trials would. */
export const loadMeanwhile = (page: Page, every: number): Promise<void> =>
  page.evaluate((ms) => {
    const files = performance
      .getEntriesByType("resource")
      .map(({ name }) => name)
      .filter((name) => /\.(woff2|js|css)$/.test(name));
    let next = 0;
    setInterval(() => {
      const file = files[next++ % Math.max(1, files.length)];
      if (file) void fetch(file, { cache: "no-store" }).then((response) => response.arrayBuffer());
    }, ms);
  }, every);
