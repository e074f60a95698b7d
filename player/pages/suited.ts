import {
  deviceKindOf,
  fewestFrames,
  finestStepMs,
  type DeviceKind,
  type Suited,
  type WhyUnsuited,
} from "~/core/collect/suited";
import type { WordingName } from "~/core/wording/names";
import { join, unsuited, words } from "../facts";
import { largeEnough, windowSentence } from "./checks";
import { pressed, say } from "./page";

const named: Record<DeviceKind, WordingName> = { computer: "aComputer", tablet: "aTablet", phone: "aPhone" };
/** So long frames are counted, in ms; a window that is not seen draws none, and is not waited for longer than this. */
const [countedMs, patience] = [500, 3000];

/**
 * Looks at whether one can take part on this device and in this browser. Whoever cannot is told why, and counted: nothing
 * else is told to the server. Settled with whether they can.
 */
export async function isSuited(into: HTMLElement, { devices, input, window: least, able }: Suited): Promise<boolean> {
  const has = (query: string) => matchMedia(query).matches;
  const kind = deviceKindOf({ isCoarse: has("(pointer: coarse)"), width: screen.width, height: screen.height });
  const refused = (why: WhyUnsuited, sentence: string): false => {
    say(into, [unsuited || sentence]);
    count(why);
    return false;
  };
  if (devices && !devices.includes(kind))
    return refused("device", words("notThisDevice", { devices: devices.map((each) => words(named[each])).join(", ") }));
  if (input === "pointer" && !has("(any-pointer: fine)")) return refused("input", words("needsPointer"));
  if (input === "touch" && !has("(any-pointer: coarse)") && navigator.maxTouchPoints === 0)
    return refused("input", words("needsTouch"));
  if (able && !(await isAble())) return refused("browser", words("notThisBrowser"));
  if (input === "keyboard" && !(await hasKeyboard(into))) return refused("input", words("needsKeyboard"));
  if (least) {
    if (innerWidth < least.width || innerHeight < least.height) {
      if (unsuited) say(into, [unsuited, windowSentence(least)]);
      count("window");
    }
    await largeEnough(into, least);
  }
  return true;
}

/** Counted once in this window, however often it is loaded. */
function count(why: WhyUnsuited): void {
  const key = `unsuited:${join}`;
  if (sessionStorage.getItem(key) === why) return;
  sessionStorage.setItem(key, why);
  void fetch(`/api/join/${join}/unsuited`, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ why }),
  }).catch(() => sessionStorage.removeItem(key));
}

function hasKeyboard(into: HTMLElement): Promise<boolean> {
  const page = say(into, [words("checkKeyboard")]);
  return new Promise((resolve) => {
    const settle = (has: boolean) => {
      removeEventListener("keydown", down, true);
      resolve(has);
    };
    const down = (event: KeyboardEvent) => {
      if (event.key !== " ") return;
      event.preventDefault();
      settle(true);
    };
    addEventListener("keydown", down, true);
    void pressed(page, [words("noKeyboard")]).then(() => settle(false));
    (document.activeElement as HTMLElement | null)?.blur();
  });
}

/** Whether the browser tells the time finely enough, and draws frames often enough while its window is seen. */
const isAble = async (): Promise<boolean> => stepMs() <= finestStepMs && (await framesPerSecond()) >= fewestFrames;

/** The shortest step the clock is seen to make, in ms. */
function stepMs(): number {
  let shortest = Infinity;
  for (let steps = 0; steps < 5; steps++) {
    const from = performance.now();
    let now = from;
    while (now === from) now = performance.now();
    shortest = Math.min(shortest, now - from);
  }
  return shortest;
}

/** Counted over half a second; where nothing is drawn, since nobody looks, it is taken to be enough. */
async function framesPerSecond(): Promise<number> {
  const counted = new Promise<number>((resolve) => {
    let [frames, from] = [0, 0];
    const frame = (at: number) => {
      if (frames === 0) from = at;
      else if (at - from >= countedMs) return resolve((frames * 1000) / (at - from));
      frames++;
      requestAnimationFrame(frame);
    };
    requestAnimationFrame(frame);
  });
  const waited = new Promise<number>((resolve) => setTimeout(() => resolve(Infinity), patience));
  return Promise.race([counted, waited]);
}
