import { pathInWords } from "../design/path-in-words";
import { same } from "../design/same";
import type { StudyDocument } from "../design/document";
import { isBinding, type Ref } from "../values/ref";
import { valueInWords } from "./differences";
import { refName } from "./words";

/** One thing that is not the same in two versions of a study; null where a version has nothing there. */
export type Differing = { where: string; one: string | null; other: string | null };

/** A place in a version: its value, and the way to it. */
type Place = { value: unknown; path: string[] };

/**
 * Everything that is not the same in two versions of a study, each with what it is in both, in the order of the documents.
 * What has an id is compared with what has the same one, wherever it stands.
 */
export function sideBySide(one: StudyDocument, other: StudyDocument): Differing[] {
  const names = new Map([...namesIn(one), ...namesIn(other)]);
  const differing: Differing[] = [];
  const told = (document: StudyDocument, value: unknown): string | null => {
    if (value === undefined || value === null) return null;
    if (isBinding(value)) return `“${refName(value.from as Ref, document, null) ?? "something gone"}”`;
    return typeof value === "string" && names.has(value) ? (names.get(value) ?? value) : valueInWords(value);
  };
  const say = (left: Place, right: Place) => {
    const isGone = right.value === undefined;
    const [document, { path }] = isGone ? [one, left] : [other, right];
    differing.push({
      // A step may be the id of something with a name, such as a cell's column.
      where: pathInWords(document, path.join(".")).replace(/[\w-]+/g, (step) => names.get(step) ?? step),
      one: told(one, left.value),
      other: told(other, right.value),
    });
  };
  const walk = (left: Place, right: Place): void => {
    if (same(left.value, right.value)) return;
    const [a, b] = [left.value, right.value];
    if (isListOfThings(a) && isListOfThings(b)) return walkThings(left, right, a, b);
    if (!isPlain(a) || !isPlain(b)) return say(left, right);
    for (const key of new Set([...Object.keys(a), ...Object.keys(b)])) walk(within(left, key), within(right, key));
  };
  const walkThings = (left: Place, right: Place, a: readonly Thing[], b: readonly Thing[]): void => {
    const nowhere = (place: Place): Place => ({ value: undefined, path: place.path });
    for (const thing of a) {
      const at = b.findIndex((each) => keyOf(each) === keyOf(thing));
      const here = within(left, String(a.indexOf(thing)));
      if (at < 0) say(here, nowhere(right));
      else walk(here, within(right, String(at)));
    }
    b.forEach((thing, index) => {
      if (!a.some((each) => keyOf(each) === keyOf(thing))) say(nowhere(left), within(right, String(index)));
    });
    const inOrder = (list: readonly Thing[], of: readonly Thing[]) =>
      list.filter((each) => of.some((there) => keyOf(there) === keyOf(each)));
    const [before, after] = [inOrder(a, b), inOrder(b, a)];
    if (before.map(keyOf).join(" ") === after.map(keyOf).join(" ")) return;
    const listed = (list: readonly Thing[]) => list.map((each) => names.get(keyOf(each)) ?? keyOf(each)).join(", ");
    differing.push({
      where: `${pathInWords(other, right.path.join("."))}, order`,
      one: listed(before),
      other: listed(after),
    });
  };
  walk({ value: one, path: [] }, { value: other, path: [] });
  return differing;
}

type Thing = { id?: unknown; part?: unknown };
const keyOf = ({ id, part }: Thing): string => String(id ?? part ?? "");
const isPlain = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value) && !isBinding(value);
const isListOfThings = (value: unknown): value is Thing[] =>
  Array.isArray(value) && value.every((each) => isPlain(each) && keyOf(each) !== "");
const within = ({ value, path }: Place, key: string): Place => ({
  value: (value as Record<string, unknown>)[key],
  path: [...path, key],
});
/** What everything with an id and a name is called. */
function namesIn(value: unknown): [string, string][] {
  if (typeof value !== "object" || value === null) return [];
  const { id, name } = value as { id?: unknown; name?: unknown };
  const own: [string, string][] = typeof id === "string" && typeof name === "string" && name !== "" ? [[id, name]] : [];
  return [...own, ...Object.values(value).flatMap(namesIn)];
}
