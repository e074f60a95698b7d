import type { Place } from "~/core/order/place";
import { words } from "../facts";
import type { Sender } from "../sender";
import { pause, place, Refused } from "../server";
import { say, sayWhy } from "./page";

/** Answers usually come sooner than this; until then nothing is said. In milliseconds. */
const quietMs = 400;
const [firstRest, longestRest] = [700, 10_000];

/**
 * Brings all that was answered so far to the server, then asks for the session's place, again and again until it has one.
 * Says so where it takes longer, or while the server is away. `stop`: it is not asked for any more.
 */
export function askForPlace(
  into: HTMLElement,
  secret: string,
  sender: Sender,
): { given: Promise<Place>; stop: () => void } {
  let isOver = false;
  let told = "";
  const tell = (sentence: string) => {
    if (!isOver && sentence !== told) say(into, [sentence]);
    told = sentence;
  };
  const slow = setTimeout(() => tell(words("placing")), quietMs);
  sender.onProgress = (_, trouble) => {
    if (trouble !== null) tell(words("placeAway"));
  };
  const stop = () => {
    isOver = true;
    clearTimeout(slow);
    sender.onProgress = () => undefined;
  };
  async function asking(): Promise<Place> {
    for (let rest = firstRest; ; rest = Math.min(longestRest, rest * 2)) {
      await sender.drained();
      try {
        return await place(secret);
      } catch (error) {
        if (isOver) return new Promise(() => undefined);
        if (error instanceof Refused) {
          clearTimeout(slow);
          if (!isOver) sayWhy(into, error.message, error.end);
          if (error.elsewhere) sender.onLost("computer");
          return new Promise(() => undefined);
        }
        tell(words("placeAway"));
        await Promise.race([pause(rest), networkBack()]);
      }
    }
  }
  return { given: asking(), stop };
}

const networkBack = () => new Promise<void>((resolve) => addEventListener("online", () => resolve(), { once: true }));
