import type { LogEntry } from "../records/log";
import { markerEntryIn } from "../records/marker-entry";
import { spreadOf, type Spread } from "./report";

/** How late markers reached one device: after the frame, or the answer, that they mark; in milliseconds. */
export type DeviceDelays = {
  device: string;
  /** Markers that had a value. */
  count: number;
  /** Those the device or the bridge was away for. */
  lost: number;
  confirmed: number;
  /** Until the bridge had handed it over, and until the device had sent it back; null where none was. */
  sentAfter: Spread | null;
  confirmedAfter: Spread | null;
  /** At most so far off, in the median: clocks are related by messages. */
  clockError: number | null;
};

type Gathered = { count: number; lost: number; sent: number[]; confirmed: number[]; errors: number[] };
const noBridge = "no bridge";

/** Gathers what became of markers, device by device, out of the logs of sessions. */
export class MarkerDelays {
  readonly #devices = new Map<string, Gathered>();

  add(entries: readonly LogEntry[]): void {
    for (const { what, at, value } of entries) {
      const entry = what === "marker" ? markerEntryIn(value) : null;
      if (!entry || entry.value === null) continue;
      if (entry.on.length === 0) {
        const none = this.#of(noBridge);
        none.count++;
        none.lost++;
      }
      for (const { device, sent, confirmed, error } of entry.on) {
        const own = this.#of(device);
        own.count++;
        if (sent === null) own.lost++;
        else own.sent.push(sent - at);
        if (confirmed !== null) own.confirmed.push(confirmed - at);
        if (error !== null) own.errors.push(error);
      }
    }
  }

  report(): DeviceDelays[] {
    return [...this.#devices].map(([device, { count, lost, sent, confirmed, errors }]) => ({
      ...{ device, count, lost, confirmed: confirmed.length },
      ...{ sentAfter: spreadOf(sent), confirmedAfter: spreadOf(confirmed) },
      clockError: spreadOf(errors)?.median ?? null,
    }));
  }

  #of(device: string): Gathered {
    const known = this.#devices.get(device) ?? { count: 0, lost: 0, sent: [], confirmed: [], errors: [] };
    this.#devices.set(device, known);
    return known;
  }
}
