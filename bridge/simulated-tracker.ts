import type { LookTarget } from "../core/bridge/messages";
import { LiveViewer, plainLiveViewer, type LiveSample, type LiveViewerOptions } from "../core/gaze/live-viewer";
import { listenAt, type Attached } from "./listen";
import type { TrackerSays } from "./trackers/lines";

export type SimulatedTrackerOptions = Partial<LiveViewerOptions> & {
  /** Samples a second. */
  rate?: number;
  /** How much faster its clock goes, in parts per million. */
  driftPpm?: number;
  /** How wide and how high the display is for the viewer, in degrees of visual angle. */
  wide?: number;
  high?: number;
};

/** Samples are sent together so often. */
const everyMs = 8;

/**
 * A stand-in for an eye tracker: it watches a simulated viewer and speaks in lines at a port of this computer, like a real one
 * would. 0 is any port that is free.
 */
export async function simulatedTracker(
  port: number,
  { rate = 600, driftPpm = 0, wide = 40, high = 25, ...viewerOptions }: SimulatedTrackerOptions = {},
): Promise<Attached & { port: number }> {
  const now = () => performance.now() * (1 + driftPpm / 1e6);
  const viewer = new LiveViewer({ ...plainLiveViewer, ...viewerOptions });
  const started = now();
  // Counted over all connections, so that the viewer goes on where a bridge comes again.
  let taken = 0;
  const timeOf = (sample: number) => started + (sample * 1000) / rate;
  const rowOf = (at: number, { left, right, distance }: LiveSample): (number | null)[] => {
    const eye = (seen: LiveSample["left"]) =>
      seen ? [rounded(seen.x / wide), rounded(-seen.y / high), rounded(seen.pupil)] : [null, null, null];
    return [rounded(at), ...eye(left), ...eye(right), rounded(distance)];
  };

  return listenAt(port, (socket) => {
    let timer: NodeJS.Timeout | null = null;
    let rest = "";
    const say = (said: TrackerSays) => socket.write(`${JSON.stringify(said)}\n`);
    const stop = () => {
      if (timer) clearInterval(timer);
      timer = null;
    };
    const send = () => {
      const samples: (number | null)[][] = [];
      for (; timeOf(taken) <= now(); taken++) samples.push(rowOf(timeOf(taken), viewer.sample(timeOf(taken))));
      if (samples.length > 0) say({ say: "samples", samples });
    };
    const take = (asked: { ask?: unknown; number?: unknown; targets?: unknown }) => {
      if (asked.ask === "tracker") say({ say: "tracker", name: "Simulated tracker", rate });
      else if (asked.ask === "clock") say({ say: "clock", number: Number(asked.number), at: now() });
      else if (asked.ask === "look") {
        const targets = asked.targets as LookTarget[];
        viewer.look(
          targets.map(({ x, y, chance }) => ({ x: x * wide, y: -y * high, chance })),
          now(),
        );
      } else if (asked.ask === "begin" && !timer) {
        // Nobody was watched meanwhile.
        taken = Math.max(taken, Math.ceil(((now() - started) * rate) / 1000));
        timer = setInterval(send, everyMs);
      } else if (asked.ask === "end") stop();
    };
    socket.on("close", stop);
    socket.on("data", (bytes) => {
      rest += bytes.toString();
      const lines = rest.split("\n");
      rest = lines.pop() ?? "";
      for (const line of lines) {
        try {
          take(JSON.parse(line) as object);
        } catch {
          say({ say: "tracker", name: "Simulated tracker", rate });
        }
      }
    });
  });
}

const rounded = (value: number) => Math.round(value * 1e5) / 1e5;
