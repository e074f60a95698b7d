import { list, object } from "../shape/compound";
import { number, text } from "../shape/plain";
import { hasShape, nullable, type Of } from "../shape/shape";

const time = nullable(number({ least: 0, most: 1e10 }));

/** What a session's log keeps of a marker, beside when what it marks happened. Times are the session's, in milliseconds. */
const markerEntry = object({
  name: text({ most: 60 }),
  /** Null where it had none, so that nothing was sent. */
  value: nullable(text({ most: 60 })),
  /** One for each device that there was; none without a bridge. */
  on: list(
    object({
      device: text({ most: 60 }),
      /** Null where the device was away. */
      sent: time,
      /** Null where the device does not send back what it takes, or did not. */
      confirmed: time,
      /** At most so far off, since clocks are related by messages that take their time. */
      error: time,
    }),
    0,
    40,
  ),
});
export type MarkerEntry = Of<typeof markerEntry>;

/** A marker out of the value of an entry; null where it is none. */
export function markerEntryIn(value: string | undefined): MarkerEntry | null {
  try {
    const read: unknown = JSON.parse(value ?? "null");
    return hasShape(markerEntry, read) ? read : null;
  } catch {
    return null;
  }
}
