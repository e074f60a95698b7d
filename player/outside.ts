import { allRules, anyDoes } from "~/core/design/all-rules";
import type { StudyDocument } from "~/core/design/document";
import type { Act } from "~/core/records/firing";
import type { Asked, SessionState } from "~/core/run/state";

type Given = Extract<Act["happened"], { on: "outside" }>;

/** Has scripts run and services asked in frames of their own, beside what is played. */
export type Outside = {
  /** Starts what is asked for in a state and was not started yet. */
  look: (state: SessionState) => void;
  /** The next of what has come, once; null where nothing has. */
  take: () => Act["happened"] | null;
  /** Called whenever something has come; null to hear no more. */
  listen: (heard: (() => void) | null) => void;
  stop: () => void;
};

/** Longer than its time, in ms, nothing is waited for from the frame itself. */
const graceMs = 1500;
const mostNames = 20;

/** A frame without any right to this page; settled when it is there, or does not come. */
async function frameAt(src: string, title: string, into: Document, allow = ""): Promise<HTMLIFrameElement> {
  const frame = into.createElement("iframe");
  frame.setAttribute("sandbox", "allow-scripts");
  Object.assign(frame, { title, hidden: true, src, allow });
  const ready = new Promise<void>((resolve) => {
    const heard = ({ source, data }: MessageEvent<unknown>) => {
      if (source !== frame.contentWindow || typeof data !== "object" || data === null || !("ready" in data)) return;
      removeEventListener("message", heard);
      resolve();
    };
    addEventListener("message", heard);
  });
  into.body.append(frame);
  await Promise.race([ready, new Promise((resolve) => setTimeout(resolve, 5000))]);
  return frame;
}

/**
 * Makes the frames a study needs, settled when they are there; what is asked of one that never comes gives nothing.
 * `servicesAt` is where that for services lies: it can reach the study's services and nothing else.
 */
export async function startOutside(study: StudyDocument, into: Document, servicesAt: string): Promise<Outside> {
  const rules = allRules(study);
  const [scripts, services] = await Promise.all([
    anyDoes(rules, "script") ? frameAt("/script-frame", "Scripts of the study", into) : null,
    anyDoes(rules, "ask") ? frameAt(servicesAt, "Services of the study", into, "local-network-access") : null,
  ]);
  const come: Given[] = [];
  let started = 0;
  let heard: (() => void) | null = null;
  const waiting = new Map<
    number,
    { timer: ReturnType<typeof setTimeout>; frame: HTMLIFrameElement | null; service?: string }
  >();
  const arrive = (number: number, gave: Given["gave"], problem?: string) => {
    const asked = waiting.get(number);
    if (!asked) return;
    clearTimeout(asked.timer);
    waiting.delete(number);
    const { service } = asked;
    come.push({
      ...{ on: "outside", number, gave },
      ...(service === undefined ? {} : { service }),
      ...(problem === undefined ? {} : { problem }),
    });
    heard?.();
  };
  const onMessage = ({ source, data }: MessageEvent<unknown>) => {
    if (typeof data !== "object" || data === null || !("number" in data) || typeof data.number !== "number") return;
    if (source === null || waiting.get(data.number)?.frame?.contentWindow !== source) return;
    const problem = "problem" in data && typeof data.problem === "string" ? data.problem.slice(0, 300) : undefined;
    arrive(data.number, "gave" in data ? plainOf(data.gave) : {}, problem);
  };
  addEventListener("message", onMessage);

  const start = ({ number, by, gets }: Asked) => {
    const { limitMs } = by;
    const frame = by.do === "ask" ? services : scripts;
    const problem = by.do === "ask" ? `No answer came within ${limitMs} ms.` : `It took longer than ${limitMs} ms.`;
    waiting.set(number, {
      timer: setTimeout(() => arrive(number, {}, problem), limitMs + graceMs),
      frame,
      ...(by.do === "ask" ? { service: by.service } : {}),
    });
    const what =
      by.do === "ask" ? { address: study.services.find(({ id }) => id === by.service)?.address } : { code: by.code };
    frame?.contentWindow?.postMessage({ number, gets, limitMs, ...what }, "*");
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
      for (const { timer } of waiting.values()) clearTimeout(timer);
      scripts?.remove();
      services?.remove();
    },
  };
}

/** What can be recorded of what was given: texts, numbers and yes or no, under short names. */
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
