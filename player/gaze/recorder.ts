import { joinSamples, packSamples, type SampleColumns } from "~/core/gaze/packed";
import { pause } from "../server";

/** How far the server has the gaze of the session: its last piece, and up to which piece of the recording that goes. */
type GazeState = { number: number; through: number };
type Held = { through: number; samples: SampleColumns; error: number | null };

const [everyMs, mostSamples, longestMs] = [2000, 20_000, 15_000];

async function packedText(samples: SampleColumns): Promise<string> {
  const packed = new Blob([packSamples(samples)]).stream().pipeThrough(new CompressionStream("gzip"));
  const bytes = new Uint8Array(await new Response(packed).arrayBuffer());
  let text = "";
  for (let from = 0; from < bytes.length; from += 0x8000)
    text += String.fromCharCode(...bytes.subarray(from, from + 0x8000));
  return btoa(text);
}

/** Brings samples to the server, in pieces of a few seconds that are tried again until they are acknowledged. */
export class GazeRecorder {
  #state: GazeState | null = null;
  #held: Held[] = [];
  #running: Promise<void> | null = null;
  #timer: ReturnType<typeof setInterval> | null = null;

  constructor(private readonly secret: string) {}

  /** Up to which piece of the recording all is safe. */
  get through(): number {
    return this.#state?.through ?? 0;
  }

  /** Asks the server how far it has what was recorded; rejects where it does not say. */
  async open(): Promise<void> {
    // Also where the server is away just now.
    this.#timer ??= setInterval(() => this.wake(), everyMs);
    this.#state = await this.#ask();
  }

  /** Takes the next piece of the recording: at session times, in stage units. */
  take(through: number, samples: SampleColumns, error: number | null): void {
    if (through > this.through && through > (this.#held.at(-1)?.through ?? 0) && samples.times.length > 0)
      this.#held.push({ through, samples, error });
  }

  wake(): void {
    this.#running ??= this.#send().finally(() => (this.#running = null));
  }

  /** Whether anything is not acknowledged yet. */
  get isWaiting(): boolean {
    return this.#held.length > 0;
  }

  /** Waits until all is acknowledged. */
  async drained(): Promise<void> {
    while (this.#held.length > 0) {
      this.wake();
      await this.#running;
    }
    if (this.#timer) clearInterval(this.#timer);
    this.#timer = null;
  }

  async #send(): Promise<void> {
    for (let failures = 0; this.#held.length > 0;) {
      try {
        const { number } = (this.#state ??= await this.#ask());
        this.#drop();
        const next = this.#next();
        const last = next.at(-1);
        if (!last) return;
        this.#state = await this.#ask({
          ...{ number: number + 1, through: last.through },
          error: last.error,
          samples: await packedText(joinSamples(next.map(({ samples }) => samples))),
        });
        this.#drop();
        failures = 0;
      } catch {
        await pause(Math.min(longestMs, 500 * 2 ** failures++));
      }
    }
  }

  /** What the server has is not held any longer. */
  #drop(): void {
    this.#held = this.#held.filter(({ through }) => through > this.through);
  }

  /** What goes together: as much as a piece may hold. */
  #next(): Held[] {
    let count = 0;
    const end = this.#held.findIndex(({ samples }, at) => (count += samples.times.length) > mostSamples && at > 0);
    return end < 0 ? this.#held : this.#held.slice(0, end);
  }

  async #ask(piece?: object): Promise<GazeState> {
    const response = await fetch("/api/session/gaze", {
      headers: {
        Authorization: `Bearer ${this.secret}`,
        ...(piece ? { "Content-Type": "application/json" } : {}),
      },
      ...(piece ? { method: "POST", body: JSON.stringify(piece) } : {}),
      cache: "no-store",
      signal: AbortSignal.timeout(20_000),
    });
    if (!response.ok) throw new Error(`The server answered ${response.status}.`);
    return (await response.json()) as GazeState;
  }
}
