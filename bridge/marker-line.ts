import { markerBytes, type DeviceTest, type LineSettings } from "../core/bridge/messages";
import { quantile } from "../core/stats/quantile";
import { now } from "./clock";
import { KeptOpen } from "./kept-open";
import { NoLine, saidOf, type Line } from "./lines/line";
import { openLine } from "./lines/registry";

/** When a marker was handed to the device, and when the device had sent it back; by the bridge's clock, in milliseconds. */
export type Sent = { sent: number | null; confirmed: number | null };

/** So long an answer is waited for. */
const answerMs = 1000;

/** A device as markers go out to it: opened, lost and found again, with its pulses and its answers. */
export class MarkerLine extends KeptOpen<Line> {
  #zero: NodeJS.Timeout | null = null;
  /** Bytes that were sent and are not answered yet, in their order. */
  #awaited: { bytes: number[]; got: number; resolve: (at: number | null) => void }[] = [];
  /** What came that nobody waited for, as far as it may tell what is there. */
  #strange = "";

  constructor(
    readonly settings: LineSettings,
    onChange: () => void,
  ) {
    super(onChange);
  }

  protected override reach(): Promise<Line> {
    return openLine(this.settings, {
      bytes: (bytes) => this.#hear(bytes),
      lost: (why) => void this.drop(why),
    });
  }
  protected override opened(): void {
    this.#strange = "";
  }
  protected override async letGo(line: Line | null): Promise<void> {
    if (this.#zero) clearTimeout(this.#zero);
    this.#zero = null;
    for (const { resolve } of this.#awaited.splice(0)) resolve(null);
    await line?.close().catch(() => undefined);
  }

  /** Sends a marker; what is not known of it is null. Never rejects. */
  async send(value: string): Promise<Sent> {
    const line = this.there;
    if (!line) return { sent: null, confirmed: null };
    const bytes = markerBytes(value);
    if (this.#zero) clearTimeout(this.#zero);
    this.#zero = null;
    const answered = this.settings.answers ? this.#answerTo(bytes) : Promise.resolve(null);
    try {
      await line.write(bytes);
    } catch (error) {
      await this.drop(`It does not take what is sent: ${saidOf(error)}.`);
      return { sent: null, confirmed: null };
    }
    const sent = now();
    if (this.settings.pulseMs > 0)
      this.#zero = setTimeout(() => {
        this.#zero = null;
        line.write(Uint8Array.of(0)).catch(() => undefined);
      }, this.settings.pulseMs);
    return { sent, confirmed: await answered };
  }

  /** Sends so many messages one after the other, and says what became of them. */
  async test(id: string, messages: number): Promise<DeviceTest> {
    const times: number[] = [];
    let sent = 0;
    const told = (problem: string | null): DeviceTest => {
      const sorted = Float64Array.from(times).sort();
      return {
        ...{ id, sent, answered: times.length, problem },
        median: sorted.length === 0 ? null : quantile(sorted, 0.5),
        worst: sorted.at(-1) ?? null,
      };
    };
    try {
      this.#strange = "";
      await this.open();
      for (let message = 0; message < messages; message++) {
        const from = now();
        const { sent: at, confirmed } = await this.send(String(1 + (message % 255)));
        if (at === null) {
          if (times.length === 0 && this.#strange !== "") break;
          return told(this.why ?? "It does not take what is sent.");
        }
        sent++;
        if (confirmed !== null) times.push(confirmed - from);
        // A device that stays silent is not waited for a thousand times.
        else if (this.settings.answers && message >= 2 && times.length === 0) break;
      }
    } catch (error) {
      return told(error instanceof NoLine ? error.message : saidOf(error));
    } finally {
      // A session may have begun meanwhile.
      if (!this.isWanted) await this.close();
    }
    if (!this.settings.answers || times.length === sent) return told(null);
    if (times.length > 0) return told(`${sent - times.length} of ${sent} messages were not answered.`);
    return told(
      this.#strange === ""
        ? "It is reached, but sends nothing back: look whether the device is to answer, and whether the speed of the line is right on both sides."
        : `Something is there, but it speaks another way: it said “${this.#strange.slice(0, 60)}”. Look whether this is the device’s port.`,
    );
  }

  #answerTo(bytes: Uint8Array): Promise<number | null> {
    return new Promise((resolve) => {
      const waiting = {
        ...{ bytes: [...bytes], got: 0 },
        resolve: (at: number | null) => {
          clearTimeout(patience);
          resolve(at);
        },
      };
      const patience = setTimeout(() => {
        this.#awaited = this.#awaited.filter((each) => each !== waiting);
        resolve(null);
      }, answerMs);
      this.#awaited.push(waiting);
    });
  }

  #hear(bytes: Uint8Array): void {
    const at = now();
    for (const byte of bytes) {
      // Zeros are sent back, too, where a line returns to them.
      if (byte === 0) continue;
      const waiting = this.#awaited.find(({ bytes: wanted, got }) => wanted[got] === byte);
      if (!waiting) {
        if (this.#strange.length < 200) this.#strange += String.fromCharCode(byte);
        continue;
      }
      waiting.got++;
      if (waiting.got < waiting.bytes.length) continue;
      this.#awaited = this.#awaited.filter((each) => each !== waiting);
      waiting.resolve(at);
    }
  }
}
