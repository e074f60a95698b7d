import type { BridgeAnswerOf } from "~/core/bridge/messages";
import type { Settings } from "~/core/design/settings";
import type { MarkerEntry } from "~/core/records/marker-entry";
import { markersAt, markersAtStart, type DueMarker } from "~/core/run/markers";
import type { SessionMachine } from "~/core/run/machine";
import type { SessionEvent, SessionState, Step } from "~/core/run/state";
import type { Clock } from "../clock";
import type { SessionLog } from "../session-log";
import { keptBridge } from "./kept";
import type { BridgeLink } from "./link";
import { newOpening, patienceMs, SessionBridge, thousandth, within } from "./session-bridge";

/** Sends the markers of a session as they are due, and logs what became of each. */
export type Markers = {
  /** Told of each step of the machine, in the frame in which it takes effect. */
  look: (machine: SessionMachine, before: SessionState, event: SessionEvent, step: Step) => void;
  /** Draws the light square on a stage, in a study that has one. */
  draw: (root: ShadowRoot) => void;
  begins: (machine: SessionMachine, state: SessionState) => void;
  /** One that a rule sends. */
  byRule: (marker: string, at: number) => void;
  /** Waits for what was sent last, and lets the devices go. */
  stop: () => Promise<void>;
};

/** Too faint to be seen, and drawn all the same, so that its frame only changes how much of it shows. */
const dark = "0.0001";

/** A black square in a corner of the stage with a white one on it, which is lit with markers. */
function squareOn(root: ShadowRoot, { corner, side }: NonNullable<Settings["lightSquare"]>): HTMLElement {
  const vertical = corner.startsWith("upper") ? "top" : "bottom";
  const horizontal = corner.endsWith("left") ? "left" : "right";
  const ground = document.createElement("div");
  const lit = document.createElement("div");
  ground.dataset.square = corner;
  ground.style.cssText = `position:absolute;${vertical}:0;${horizontal}:0;width:${side}cqmin;height:${side}cqmin;background:#000`;
  lit.style.cssText = `width:100%;height:100%;background:#fff;opacity:${dark};will-change:opacity`;
  ground.append(lit);
  root.append(ground);
  return lit;
}

/** Begins with the markers of a session; settled when the bridge is there, or was waited for long enough. */
export async function startMarkers(
  session: string,
  log: SessionLog,
  clock: Clock,
  { lightSquare }: Settings,
): Promise<Markers> {
  const kept = keptBridge();
  // Numbers begin anew with each loading of the page.
  const bridge =
    kept &&
    new SessionBridge(kept, {
      here: (link) => log.add("bridge-here", link.devices.map(({ device }) => device.name).join("; ")),
      away: () => log.add("bridge-away"),
      jumped: (by) => log.add("bridge-clock", by),
      start: (link) => link.start(`${session} ${newOpening()}`),
    });
  if (bridge) await within(bridge.open(), patienceMs);
  let number = 0;
  let square: HTMLElement | null = null;
  const waiting = new Set<Promise<unknown>>();

  const note = ({ name, value, at }: DueMarker, trial: number | null, on: MarkerEntry["on"]) =>
    log.add("marker", JSON.stringify({ name, value, on } satisfies MarkerEntry), undefined, at, trial);
  const told = (link: BridgeLink, on: BridgeAnswerOf<"marked">["on"]): MarkerEntry["on"] =>
    on.map(({ device, sent, confirmed }) => {
      const [out, back] = [
        sent === null ? null : bridge?.own(sent),
        confirmed === null ? null : bridge?.own(confirmed),
      ];
      return {
        device: (link.devices.find((each) => each.device.id === device)?.device.name ?? device).slice(0, 60),
        sent: out ? clock.at(out.at) : null,
        confirmed: back ? clock.at(back.at) : null,
        error: out ? thousandth(out.uncertainty) : null,
      };
    });
  const send = (due: DueMarker) => {
    const link = bridge?.link;
    const { trial } = log;
    if (due.value === null || !link) return note(due, trial, []);
    const sending: Promise<unknown> = link
      .mark(++number, due.value)
      .then((on) => note(due, trial, told(link, on)))
      // The bridge was lost before it said so: whether the marker went out is not known.
      .catch(() => note(due, trial, []))
      .finally(() => waiting.delete(sending));
    waiting.add(sending);
  };
  return {
    look: ({ course }, before, event, step) => {
      const due = markersAt(course, before, event, step);
      // In the frame of the scene, like the scene itself.
      if (square && step.commands.some(({ kind }) => kind === "show-scene"))
        square.style.opacity = due.length > 0 ? "1" : dark;
      for (const each of due) send(each);
    },
    draw: (root) => {
      square = lightSquare ? squareOn(root, lightSquare) : null;
    },
    begins: ({ course }, state) => markersAtStart(course, { ...state, now: clock.now() }).forEach(send),
    byRule: (marker, at) => send({ name: marker.slice(0, 60), value: marker.slice(0, 60), at }),
    stop: async () => {
      await within(Promise.allSettled(waiting), patienceMs);
      await bridge?.stop();
    },
  };
}
