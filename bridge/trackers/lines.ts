import { emptyColumns, packedColumns, type SampleColumns } from "../../core/gaze/packed";
import { list, object, variant } from "../../core/shape/compound";
import { number, only, text, whole } from "../../core/shape/plain";
import { hasShape, nullable, type Of } from "../../core/shape/shape";
import { NoLine } from "../lines/line";
import { tcp } from "../lines/tcp";
import type { TrackerAdapter } from "./tracker";

const cell = nullable(number());
const saidShape = variant("say", {
  tracker: object({ say: only("tracker"), name: text({ most: 60 }), rate: number({ above: 0, most: 10_000 }) }),
  clock: object({ say: only("clock"), number: whole(0, 1e9), at: number() }),
  /** Each sample: its time, then what `packedColumns` names; null where it was not seen. */
  samples: object({
    say: only("samples"),
    samples: list(list(cell, packedColumns.length + 1, packedColumns.length + 1), 0, 2000),
  }),
});
/** What such a tracker says, a line each. */
export type TrackerSays = Of<typeof saidShape>;

const [helloMs, clockMs, longestLine] = [2000, 1000, 1_000_000];

function saidIn(line: string): TrackerSays | null {
  try {
    const value: unknown = JSON.parse(line);
    return hasShape(saidShape, value) ? value : null;
  } catch {
    return null;
  }
}

/** Samples in columns; what has no time is none. */
function columnsOf(said: readonly (number | null)[][]): SampleColumns {
  const rows = said.filter(([at]) => at !== null);
  const columns = emptyColumns(rows.length);
  rows.forEach((row, at) => {
    columns.times[at] = row[0] ?? NaN;
    packedColumns.forEach((name, index) => (columns[name][at] = row[index + 1] ?? NaN));
  });
  return columns;
}

/** A tracker whose program listens at a port and speaks lines of JSON, as `docs/devices.md` tells. */
export const lines: TrackerAdapter = {
  open: async ({ host, port }, hearing) => {
    const waiting = new Map<number, (at: number) => void>();
    let greet: (said: Extract<TrackerSays, { say: "tracker" }> | null) => void = () => undefined;
    const greeting = new Promise<Extract<TrackerSays, { say: "tracker" }> | null>((resolve) => (greet = resolve));
    const decoder = new TextDecoder();
    let rest = "";
    const take = (line: string) => {
      const said = saidIn(line);
      // What is no line of a tracker at the beginning is something else at this port.
      if (!said) return greet(null);
      if (said.say === "tracker") greet(said);
      else if (said.say === "clock") waiting.get(said.number)?.(said.at);
      else hearing.samples(columnsOf(said.samples));
    };
    const line = await tcp.open(
      { kind: "tcp", host, port, pulseMs: 0, answers: false },
      {
        bytes: (bytes) => {
          rest += decoder.decode(bytes, { stream: true });
          const whole = rest.split("\n");
          rest = whole.pop() ?? "";
          if (rest.length > longestLine) rest = "";
          whole.forEach(take);
        },
        lost: (why) => {
          greet(null);
          hearing.lost(why);
        },
      },
    );
    const say = (message: object) =>
      void line.write(new TextEncoder().encode(`${JSON.stringify(message)}\n`)).catch(() => undefined);
    say({ ask: "tracker" });
    const patience = setTimeout(() => greet(null), helloMs);
    const hello = await greeting;
    clearTimeout(patience);
    if (!hello) {
      await line.close();
      throw new NoLine(
        `Something listens at ${host}, port ${port}, but it is no eye tracker that speaks in lines: look whether this is the tracker’s port.`,
      );
    }
    let clocks = 0;
    return {
      name: hello.name,
      rate: hello.rate,
      clock: () =>
        new Promise((resolve, reject) => {
          const asked = ++clocks;
          const silence = setTimeout(() => {
            waiting.delete(asked);
            reject(new Error("The tracker does not tell its time."));
          }, clockMs);
          waiting.set(asked, (at) => {
            clearTimeout(silence);
            waiting.delete(asked);
            resolve(at);
          });
          say({ ask: "clock", number: asked });
        }),
      begin: () => say({ ask: "begin" }),
      end: () => say({ ask: "end" }),
      look: (targets) => say({ ask: "look", targets }),
      close: () => line.close(),
    };
  },
};
