import { object } from "../shape/compound";
import { text } from "../shape/plain";
import type { Of, Shape } from "../shape/shape";

const momentFields = object({
  at: text({
    missing: "is missing: choose a day and time",
    pattern: /^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{3}Z$/,
    otherwise: "must be a moment in UTC",
  }),
  zone: text({ missing: "is missing", most: 60 }),
});
/** A moment, with the time zone in which it was said: `Europe/Berlin`. */
export interface Moment extends Of<typeof momentFields> {}
export const moment: Shape<Moment> = momentFields;

/** Whether browsers and servers know a time zone by this name. */
function isZone(zone: string): boolean {
  try {
    new Intl.DateTimeFormat("en", { timeZone: zone });
    return true;
  } catch {
    return false;
  }
}

/** From when until when something is open, as far as that is said. */
export type Span = { from?: Moment | undefined; until?: Moment | undefined };

/** What is wrong with a span that has its form, or with further time zones; null where nothing is. */
export function spanProblem({ from, until }: Span, furtherZones: readonly string[] = []): string | null {
  const zones = [...[from, until].flatMap((each) => (each ? [each.zone] : [])), ...furtherZones];
  const unknown = zones.find((zone) => !isZone(zone));
  if (unknown !== undefined) return `“${unknown}” is no time zone.`;
  for (const each of [from, until]) if (each && Number.isNaN(Date.parse(each.at))) return "This day does not exist.";
  return from && until && Date.parse(from.at) >= Date.parse(until.at) ? "It would be over before it opens." : null;
}

/** Whether a moment, in ms since 1970, is before a span, or after it; null while it lasts. */
export function outsideOf({ from, until }: Span, now: number): "early" | "over" | null {
  if (from && now < Date.parse(from.at)) return "early";
  return until && now >= Date.parse(until.at) ? "over" : null;
}

/** The later of two moments; the one there is where there is only one. */
export const laterOf = (one: Moment | undefined, other: Moment | undefined): Moment | undefined =>
  one && other ? (Date.parse(one.at) >= Date.parse(other.at) ? one : other) : (one ?? other);

/** The calendar day of a moment, in ms since 1970, in a time zone: `2026-11-27`. */
export const dayIn = (zone: string, at: number): string =>
  new Intl.DateTimeFormat("en-CA", { timeZone: zone, dateStyle: "short" }).format(at);
