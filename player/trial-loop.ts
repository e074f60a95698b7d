import type { PlannedTrial } from "~/core/compile/compile";
import { blockOf } from "~/core/design/lookup";
import type { Id } from "~/core/design/types";
import type { Command, SessionEvent, SessionMachine, SessionState, Step } from "~/core/run/machine";
import type { SessionRecord } from "~/core/run/records";
import type { Clock } from "./clock";
import type { MediaUrl } from "./stage/context";
import { buildScene, type SceneLayer } from "./stage/scene-layer";

export type Stage = { host: HTMLElement; root: ShadowRoot };
type Ended = { step: Step; records: SessionRecord[] };

/** The name of a key as designs write it: the event's `key`, with the space bar as `Space`. */
export const keyName = (event: KeyboardEvent): string => (event.key === " " ? "Space" : event.key);

/**
 * Plays one trial. All scenes are built and decoded first; then each frame at most flips visibility. Settled with the
 * machine's step after the trial and the records it made. `frameMs` is the display's measured frame length.
 */
export async function playTrial(
  machine: SessionMachine,
  from: SessionState,
  part: Id,
  trial: PlannedTrial,
  stage: Stage,
  clock: Clock,
  mediaUrl: MediaUrl,
  frameMs: number,
): Promise<Ended> {
  const { document: study } = machine.context(from);
  const block = blockOf(study, part);
  const drawing = () => ({ context: machine.context(state), mediaUrl });
  let state = from;
  const layers = new Map<Id, SceneLayer>(
    block.scenes.map((scene) => [scene.id, buildScene(document, scene, drawing())]),
  );
  const names = new Map(block.scenes.map(({ id, name }) => [id, name]));
  stage.root.replaceChildren(...[...layers.values()].map(({ element }) => element));
  await Promise.all([...layers.values()].map(({ ready }) => ready));
  const keys = new Set(block.answers.flatMap(({ by }) => by.map(({ device }) => device))).has("keys");

  return new Promise((resolve) => {
    let shown: SceneLayer | null = null;
    let due: number | null = null;
    let flipAtNextFrame = true;
    const records: SessionRecord[] = [];

    const carryOut = (command: Command, stamp: number) => {
      switch (command.kind) {
        case "show-scene": {
          const layer = layers.get(command.scene) ?? null;
          shown?.show(false);
          layer?.show(true);
          shown = layer;
          due = command.planned === null ? null : stamp + command.planned;
          stage.host.dataset.scene = names.get(command.scene) ?? "";
          stage.host.dataset.trial = String(trial.trial);
          return;
        }
        case "flip-now":
          flipAtNextFrame = true;
          return;
        case "refresh":
          for (const layer of layers.values()) layer.refresh(drawing());
          return;
        case "record":
          records.push(command.record);
          return;
        case "prepare-trial":
        case "show-page":
        case "finish":
          return;
      }
    };
    const tell = (event: SessionEvent, stamp: number): Step => {
      const step = machine.next(state, event);
      state = step.state;
      for (const command of step.commands) carryOut(command, stamp);
      return step;
    };
    const isOver = () => records.length > 0;

    const onFrame = (stamp: number) => {
      // A scene ends with the frame nearest to its planned end, counted from its own onset.
      const isDue = due !== null && stamp >= due - frameMs / 2;
      if (flipAtNextFrame || isDue) {
        const late = !flipAtNextFrame && due !== null ? Math.max(0, Math.round((stamp - due) / frameMs)) : 0;
        flipAtNextFrame = false;
        due = null;
        const step = tell({ kind: "flip", at: clock.at(stamp), late }, stamp);
        if (isOver()) {
          shown?.show(false);
          delete stage.host.dataset.scene;
          removeEventListener("keydown", onKey, true);
          return resolve({ step, records });
        }
      }
      requestAnimationFrame(onFrame);
    };
    const onKey = (event: KeyboardEvent) => {
      if (event.repeat || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === " " || event.key.startsWith("Arrow")) event.preventDefault();
      tell({ kind: "answer", at: clock.at(event.timeStamp), value: keyName(event) }, event.timeStamp);
    };
    if (keys) addEventListener("keydown", onKey, true);
    requestAnimationFrame(onFrame);
  });
}
