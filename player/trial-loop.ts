import type { PlannedTrial } from "~/core/compile/compile";
import { blockOf } from "~/core/design/lookup";
import type { Id, Item } from "~/core/design/types";
import type { Command, SessionEvent, SessionMachine, SessionState, Step } from "~/core/run/machine";
import type { SessionRecord } from "~/core/run/records";
import type { Clock } from "./clock";
import { listen, needsPointer } from "./inputs";
import { pixelsPerUnit, type MediaUrl } from "./stage/context";
import type { Tell } from "./stage/items/kind";
import { buildScene, scenePlay, type SceneLayer, type ScenePlay } from "./stage/scene-layer";

export type Stage = { host: HTMLElement; root: ShadowRoot };
type Ended = { step: Step; records: SessionRecord[] };

/**
 * Plays one trial. All scenes are built and decoded first; then each frame at most flips visibility. Settled with the
 * machine's step after the trial and the records it made. `frameMs` is the display's measured frame length. With `signal`
 * a trial that is only tried out can be broken off; it then settles without a record.
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
  signal?: AbortSignal,
): Promise<Ended> {
  const { document: study } = machine.context(from);
  const block = blockOf(study, part);
  const unit = pixelsPerUnit(stage.host.clientWidth, stage.host.clientHeight);
  const drawing = () => ({ context: machine.context(state), mediaUrl, pixelsPerUnit: unit });
  let state = from;
  const layers = new Map<Id, SceneLayer>(
    block.scenes.map((scene) => [scene.id, buildScene(document, scene, drawing())]),
  );
  const fields = new Map(
    [...layers].map(([id, { element }]) => [id, element.querySelector<HTMLElement>(".entry input, .entry textarea")]),
  );
  const names = new Map(block.scenes.map(({ id, name }) => [id, name]));
  const itemNames = new Map(block.scenes.flatMap(({ items }) => items.map(({ id, name }) => [id, name] as const)));
  const waitsForMedia = new Set(block.scenes.flatMap(({ id, lasts }) => (lasts.kind === "media-end" ? [id] : [])));
  stage.root.replaceChildren(...[...layers.values()].map(({ element }) => element));
  stage.host.style.cursor = needsPointer(block) ? "default" : "none";
  let take: (event: SessionEvent, stamp: number) => void = () => undefined;
  const tellOf = (item: Item): Tell => ({
    observed: (what, stamp, value) =>
      take(
        {
          kind: "observed",
          observation: { item: item.id, what, at: clock.at(stamp), ...(value === undefined ? {} : { value }) },
        },
        stamp,
      ),
    input: (input, stamp) => take({ kind: "input", at: clock.at(stamp), input }, stamp),
  });
  await Promise.all([...layers.values()].map(({ ready }) => ready));
  const plays = new Map<Id, ScenePlay>(
    await Promise.all(
      block.scenes.map(
        async (scene) =>
          [scene.id, await scenePlay(layers.get(scene.id) as SceneLayer, scene, drawing(), frameMs, tellOf)] as const,
      ),
    ),
  );

  return new Promise((resolve) => {
    let shown: Id | null = null;
    let due: number | null = null;
    let flipAtNextFrame = true;
    const records: SessionRecord[] = [];

    const leave = (stamp: number) => {
      if (shown === null) return;
      layers.get(shown)?.show(false);
      plays.get(shown)?.end(stamp);
      shown = null;
    };
    const carryOut = (command: Command, stamp: number) => {
      switch (command.kind) {
        case "show-scene": {
          const layer = layers.get(command.scene);
          leave(stamp);
          layer?.show(true);
          shown = command.scene;
          plays.get(shown)?.begin(stamp);
          due = command.planned === null ? null : stamp + command.planned;
          stage.host.dataset.scene = names.get(command.scene) ?? "";
          stage.host.dataset.trial = String(trial.trial);
          fields.get(shown)?.focus({ preventScroll: true });
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
    take = (event, stamp) => {
      if (!isOver()) tell(event, stamp);
    };
    const stopListening = listen(
      block,
      { host: stage.host, root: stage.root, nameOf: (item) => itemNames.get(item) ?? item },
      (input, stamp) => take({ kind: "input", at: clock.at(stamp), input }, stamp),
    );

    const finish = (step: Step, stamp: number) => {
      leave(stamp);
      delete stage.host.dataset.scene;
      stopListening();
      resolve({ step, records });
    };
    const onFrame = (stamp: number) => {
      if (signal?.aborted) return finish({ state, commands: [] }, stamp);
      // A scene ends with the frame nearest to its planned end, counted from its own onset.
      const isDue = due !== null && stamp >= due - frameMs / 2;
      const isPlayed = shown !== null && waitsForMedia.has(shown) && plays.get(shown)?.isOver() === true;
      if (flipAtNextFrame || isDue || isPlayed) {
        const late = isDue && !flipAtNextFrame && due !== null ? Math.max(0, Math.round((stamp - due) / frameMs)) : 0;
        flipAtNextFrame = false;
        due = null;
        const step = tell({ kind: "flip", at: clock.at(stamp), late }, stamp);
        if (isOver()) return finish(step, stamp);
      } else if (shown !== null) plays.get(shown)?.frame(stamp);
      requestAnimationFrame(onFrame);
    };
    requestAnimationFrame(onFrame);
  });
}
