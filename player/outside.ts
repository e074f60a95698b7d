import type { Act } from "~/core/records/firing";
import type { Asked, SessionState } from "~/core/run/state";

type Given = Extract<Act["happened"], { on: "outside" }>;

/** Has scripts run in a frame of their own, beside what is played. */
export type Outside = {
  /** Starts what is asked for in a state and was not started yet. */
  look: (state: SessionState) => void;
  /** The next of what has come, once; null where nothing has. */
  take: () => Given | null;
  /** Called whenever something has come; null to hear no more. */
  listen: (heard: (() => void) | null) => void;
  stop: () => void;
};

/** Longer than its time, in ms, nothing is waited for from the frame itself. */
const graceMs = 1500;
const mostNames = 20;

/** Makes the frame, settled when it is there; scripts asked for where it never comes give nothing. */
export async function startOutside(into: Document): Promise<Outside> {
  const frame = into.createElement("iframe");
  frame.setAttribute("sandbox", "allow-scripts");
  frame.title = "Scripts of the study";
  frame.hidden = true;
  frame.src = "/script-frame";
  const come: Given[] = [];
  let started = 0;
  let heard: (() => void) | null = null;
  const waiting = new Map<number, ReturnType<typeof setTimeout>>();
  const arrive = (given: Given) => {
    if (!waiting.has(given.number)) return;
    clearTimeout(waiting.get(given.number));
    waiting.delete(given.number);
    come.push(given);
    heard?.();
  };
  let isReady: () => void = () => undefined;
  const ready = new Promise<void>((resolve) => (isReady = resolve));
  const onMessage = ({ source, data }: MessageEvent<unknown>) => {
    if (source !== frame.contentWindow || typeof data !== "object" || data === null) return;
    if ("ready" in data) return isReady();
    if (!("number" in data) || typeof data.number !== "number") return;
    const problem = "problem" in data && typeof data.problem === "string" ? data.problem.slice(0, 300) : undefined;
    const gave = "gave" in data ? plainOf(data.gave) : {};
    arrive({ on: "outside", number: data.number, gave, ...(problem === undefined ? {} : { problem }) });
  };
  addEventListener("message", onMessage);
  into.body.append(frame);
  await Promise.race([ready, new Promise((resolve) => setTimeout(resolve, 5000))]);

  const start = ({ number, script: { code, limitMs }, gets }: Asked) => {
    const problem = `It took longer than ${limitMs} ms.`;
    waiting.set(
      number,
      setTimeout(() => arrive({ on: "outside", number, gave: {}, problem }), limitMs + graceMs),
    );
    frame.contentWindow?.postMessage({ number, code, gets, limitMs }, "*");
  };
  return {
    look: ({ outside }) => {
      for (const asked of outside.waiting) if (asked.number > started) start(asked);
      started = Math.max(started, outside.asked);
    },
    take: () => come.shift() ?? null,
    listen: (next) => {
      heard = next;
      if (come.length > 0) next?.();
    },
    stop: () => {
      removeEventListener("message", onMessage);
      for (const timer of waiting.values()) clearTimeout(timer);
      frame.remove();
    },
  };
}

/** What can be recorded of what a script gave: texts, numbers and yes or no, under short names. */
function plainOf(gave: unknown): Given["gave"] {
  if (typeof gave !== "object" || gave === null) return {};
  return Object.fromEntries(
    Object.entries(gave)
      .slice(0, mostNames)
      .flatMap(([name, value]): [string, string | number | boolean | null][] => {
        if (name.length > 60) return [];
        if (typeof value === "number") return Number.isFinite(value) ? [[name, value]] : [];
        if (typeof value === "string") return [[name, value.slice(0, 10_000)]];
        return typeof value === "boolean" || value === null ? [[name, value]] : [];
      }),
  );
}
