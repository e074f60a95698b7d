import { partsInOrder } from "../design/lookup";
import type { Block } from "../design/block";
import type { Item } from "../items/registry";
import type { Context } from "../values/context";
import { resolveNumber } from "../values/resolve";
import type { Check, Finding } from "./finding";
import { rowContexts } from "./row-contexts";

/**
 * More than three flashes within a second can bring on a seizure in people with photosensitive epilepsy, where they are
 * large: a quarter of 341 × 256 pixels on a screen of 1024 × 768, which is an eighteenth of it (Web Content Accessibility
 * Guidelines 2.2, success criterion 2.3.1). A flash is a pair of opposing changes, so that eight changes make more than three.
 */
const [mostFlashes, windowMs] = [3, 1000];
/** In square stage units, of the 160 × 100 of a stage of 16 : 10. */
const largeArea = (160 * 100) / 36;

/** Trials whose scenes change so fast, over so large a part of the stage, that they may flash. How bright they are is not judged. */
export const flashes: Check = (document) =>
  partsInOrder(document).flatMap((part): Finding[] => {
    if (part.kind !== "block" || part.scenes.length === 0) return [];
    const worst = rowContexts(document, part).reduce(
      (most, { context }) => Math.max(most, mostChanges(scenesIn(part, context))),
      0,
    );
    const count = Math.floor(worst / 2);
    if (count <= mostFlashes) return [];
    return [
      {
        level: "warning",
        where: `block “${part.name}”`,
        message: `Large parts of its stage change up to ${worst} times within a second, which can make ${count} flashes; more than three can bring on a seizure in people with photosensitive epilepsy. Show scenes for longer, or keep what changes small or faint, and tell people before they consent.`,
        target: { part: part.id },
      },
    ];
  });

type Timed = { ms: number | null; items: ReadonlyMap<string, number> };

/** How long each scene of a trial is on at least, in ms (null where that hangs on the participant), and how large its items are by what they are. */
const scenesIn = ({ scenes }: Block, context: Context): Timed[] =>
  scenes.map(({ lasts, items }) => ({
    ms: lasts.kind === "ms" ? resolveNumber(lasts.ms, context) : lasts.kind === "random-ms" ? lasts.from : null,
    items: new Map(items.map((item) => [JSON.stringify({ ...item, id: "", name: "" }), areaOf(item, context)])),
  }));

const areaOf = (item: Item, context: Context): number =>
  "size" in item ? (resolveNumber(item.size.w, context) ?? 0) * (resolveNumber(item.size.h, context) ?? 0) : 0;

/** Whether much of the stage differs from one scene to the next: what is on both does not change. */
const isLargeChange = (before: Timed, here: Timed): boolean => {
  const gone = (one: Timed, other: Timed) =>
    [...one.items].reduce((sum, [item, area]) => sum + (other.items.has(item) ? 0 : area), 0);
  return gone(before, here) + gone(here, before) >= largeArea;
};

/** The most large changes from one scene to the next within a second; trials of nothing but timed scenes follow each other at once. */
function mostChanges(trial: readonly Timed[]): number {
  const isOpen = trial.some(({ ms }) => ms === null);
  const shortest = trial.reduce((sum, { ms }) => sum + Math.max(1, ms ?? 0), 0);
  const repeats = isOpen ? 1 : Math.ceil((2 * windowMs) / shortest) + 1;
  const changes: number[] = [];
  let [at, most] = [0, 0];
  for (let index = 1; index < trial.length * repeats; index++) {
    const [before, here] = [trial[(index - 1) % trial.length] as Timed, trial[index % trial.length] as Timed];
    // What waits for the participant begins a second of its own.
    at += before.ms === null ? windowMs : Math.max(1, before.ms);
    if (isLargeChange(before, here)) changes.push(at);
    while ((changes[0] ?? at) <= at - windowMs) changes.shift();
    most = Math.max(most, changes.length);
  }
  return most;
}
