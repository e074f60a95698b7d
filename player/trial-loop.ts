import type { PlannedTrial } from "~/core/compile/compile";
import { rulesInTrials } from "~/core/design/all-rules";
import { blockOf } from "~/core/design/lookup";
import type { Act } from "~/core/records/firing";
import type { Rule } from "~/core/rules/rule";
import type { Id } from "~/core/values/ref";
import type { Item } from "~/core/items/registry";
import type { Command, SessionEvent, SessionState, Step } from "~/core/run/state";
import type { SessionMachine } from "~/core/run/machine";
import type { Interruption, SceneEnd, SessionRecord } from "~/core/records/record";
import { countsFrom, endsAt, foreseenEnd, plannedEnd, type PlannedEnd } from "~/core/timing/scene-end";
import type { Acts } from "./acts";
import type { Beside } from "./beside";
import type { Clock } from "./clock";
import type { RefreshWatch } from "./display";
import { listen, needsPointer, type RawInput } from "./inputs";
import { pixelsPerUnit, type MediaUrl } from "./stage/context";
import { speed } from "./pace";
import type { Tell } from "./stage/item-drawer";
import type { Outside } from "./outside";
import { audio, decodedSound } from "./stage/audio";
import { audioTime } from "./stage/audio-time";
import { buildScene, scenePlay, type SceneLayer, type ScenePlay } from "./stage/scene-layer";

export type Stage = { host: HTMLElement; root: ShadowRoot };
type Ended = { step: Step; records: SessionRecord[] };

/** What a trial is played with. */
export type TrialSetting = {
  machine: SessionMachine;
  stage: Stage;
  clock: Clock;
  mediaUrl: MediaUrl;
  refresh: RefreshWatch;
  /** Looked at in every frame: what has come between, if anything. The trial is finished and says so, or broken off where it stands. */
  interruption?: (() => Interruption | null) | undefined;
  isBrokenOff?: boolean | undefined;
  /** Told every raw input, whether or not it is an answer. */
  onInput?: RawInput | undefined;
  /** What rules wait for besides answers; left out where a study has no rules. */
  listenForActs?: ((...wanted: Parameters<typeof import("./acts").listenForActs>) => Acts) | undefined;
  /** Has scripts run, in a study that has any. */
  outside?: Outside | null | undefined;
  /** Sends markers and tells trackers what is shown, in a study that does. */
  beside?: Beside | undefined;
  /** Called in the frame in which a scene comes on, and with null when the trial is over. */
  onScene?: ((scene: Id | null) => void) | undefined;
  /** A trial that is only tried out can be broken off; it then settles without a record. */
  signal?: AbortSignal | undefined;
};

/** A sound that belongs to the next scene is set going so many frames before it. */
const framesAhead = 4;

/** What an item was seen to do, as rules hear of it. */
const happenedTo = (item: Id, what: "began" | "ended" | "value", value = ""): Act["happened"] =>
  what === "value"
    ? { on: "message", item, says: value.slice(0, 1000) }
    : { on: "media", item, what: what === "began" ? "begins" : "ends" };

/** The sounds that rules can play, decoded before the trial: each begins at a stamp, at so many per cent of its loudness. */
async function preparedSounds(rules: readonly Rule[], mediaUrl: MediaUrl) {
  const files = new Set(
    rules.flatMap((rule) => rule.do.flatMap((action) => (action.do === "sound" ? [action.file] : []))),
  );
  const made = [...files].map(async (file) => {
    const url = mediaUrl(file);
    const buffer = url === null ? null : await decodedSound(url).catch(() => null);
    const play = (volume: number, stamp: number) => {
      if (!buffer) return;
      const device = audio();
      const source = new AudioBufferSourceNode(device, { buffer, playbackRate: speed() });
      source.connect(new GainNode(device, { gain: volume / 100 })).connect(device.destination);
      source.start(audioTime(device, stamp).when);
    };
    return [file, play] as const;
  });
  return new Map(await Promise.all(made));
}

/** Pictures that rules can put on items are decoded before the trial, so that they come with their frame. */
const preparedPictures = (rules: readonly Rule[], mediaUrl: MediaUrl) =>
  Promise.allSettled(
    rules
      .flatMap((rule) =>
        rule.do.flatMap((action) => (action.do === "item" && action.property === "picture" ? [action.to] : [])),
      )
      .map(async (file) => {
        const url = typeof file === "string" ? mediaUrl(file) : null;
        if (url !== null) await Object.assign(new Image(), { src: url }).decode();
      }),
  );

const nextFrame = () => new Promise<number>((resolve) => requestAnimationFrame(resolve));

/**
 * Plays one trial. All scenes are built, decoded and drawn first; then each frame at most flips which layer shows. Settled
 * with the machine's step after the trial and the records it made.
 */
export async function playTrial(
  from: SessionState,
  part: Id,
  trial: PlannedTrial,
  {
    machine,
    stage,
    clock,
    mediaUrl,
    refresh,
    interruption,
    isBrokenOff,
    onInput,
    listenForActs,
    outside,
    beside,
    onScene,
    signal,
  }: TrialSetting,
): Promise<Ended> {
  const block = blockOf(machine.course.document, part);
  const { frameMs, variable } = refresh;
  const unit = pixelsPerUnit(stage.host.clientWidth, stage.host.clientHeight);
  const drawing = () => ({ context: machine.context(state), mediaUrl, pixelsPerUnit: unit });
  let state = from;
  const rules = rulesInTrials(machine.course.document, block);
  const mayChange = new Set(
    rules.flatMap((rule) => rule.do.flatMap((action) => (action.do === "item" ? [action.item] : []))),
  );
  const [sounds] = await Promise.all([preparedSounds(rules, mediaUrl), preparedPictures(rules, mediaUrl)]);
  const layers = new Map<Id, SceneLayer>(
    block.scenes.map((scene) => [scene.id, buildScene(document, scene, drawing(), mayChange)]),
  );
  const fields = new Map(
    [...layers].map(([id, { element }]) => [id, element.querySelector<HTMLElement>(".entry input, .entry textarea")]),
  );
  const names = new Map(block.scenes.map(({ id, name }) => [id, name]));
  const itemNames = new Map(block.scenes.flatMap(({ items }) => items.map(({ id, name }) => [id, name] as const)));
  const waitsForMedia = new Set(block.scenes.flatMap(({ id, lasts }) => (lasts.kind === "media-end" ? [id] : [])));
  stage.root.replaceChildren(...[...layers.values()].map(({ element }) => element));
  beside?.draw?.(stage.root);
  stage.host.style.cursor = needsPointer(block) ? "default" : "none";
  let take: (event: SessionEvent, stamp: number) => void = () => undefined;
  const listensTo = new Set<string>(rules.map(({ when }) => when.on));
  const tellOf = (item: Item): Tell => ({
    observed: (what, stamp, more) => {
      take({ kind: "observed", observation: { item: item.id, what, at: clock.at(stamp), ...more } }, stamp);
      const happened = happenedTo(item.id, what, more?.value);
      if (listensTo.has(happened.on)) take({ kind: "act", at: clock.at(stamp), happened }, stamp);
    },
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
  // Two frames in which all layers are drawn, too faint to be seen, before the first of them shows.
  await nextFrame();
  await nextFrame();

  const looks = beside?.scenes?.(layers);

  return new Promise((resolve) => {
    let shown: Id | null = null;
    let onset = 0;
    let end: PlannedEnd | null = null;
    let nextFrom: number | undefined;
    let foreseen = false;
    let flipAtNextFrame: "answer" | "rule" | null = "answer";
    let isInterrupted = false;
    const records: SessionRecord[] = [];
    refresh.pause();

    const carryOut = (command: Command, stamp: number) => {
      switch (command.kind) {
        case "show-scene": {
          if (shown !== null) layers.get(shown)?.show(false);
          shown = command.scene;
          onset = stamp;
          foreseen = false;
          layers.get(shown)?.show(true);
          plays.get(shown)?.begin(stamp);
          onScene?.(shown);
          looks?.(shown);
          end = command.planned === null ? null : plannedEnd(stamp, command.planned / speed(), frameMs, nextFrom);
          stage.host.dataset.scene = names.get(command.scene) ?? "";
          stage.host.dataset.trial = String(trial.trial);
          fields.get(shown)?.focus({ preventScroll: true });
          return;
        }
        case "flip-now":
          flipAtNextFrame ??= command.by;
          return;
        case "sound":
          sounds.get(command.file)?.(command.volume, stamp + frameMs);
          return;
        case "media":
          if (shown !== null) plays.get(shown)?.control(command.item, command.act, command.volume, stamp);
          return;
        case "marker":
          stage.host.dataset.marker = command.marker;
          beside?.byRule?.(command.marker, clock.at(stamp));
          return;
        case "refresh":
          for (const layer of layers.values()) layer.refresh(drawing());
          return;
        case "record":
          records.push(command.record);
          return;
        case "prepare-trial":
        case "show-page":
        case "show-break":
        case "finish":
          return;
      }
    };
    const tell = (event: SessionEvent, stamp: number): Step => {
      const step = machine.next(state, event);
      const before = state;
      state = step.state;
      outside?.look(state);
      for (const command of step.commands) carryOut(command, stamp);
      // After what is seen is set to change, and still in its frame.
      beside?.look?.(machine, before, event, step);
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
      onInput,
    );
    const acts =
      listensTo.size > 0 && listenForActs
        ? listenForActs(rules, stage, (happened, stamp) => take({ kind: "act", at: clock.at(stamp), happened }, stamp))
        : null;

    const finish = (step: Step, stamp: number) => {
      if (shown !== null) {
        plays.get(shown)?.end(stamp);
        layers.get(shown)?.show(false);
      }
      shown = null;
      onScene?.(null);
      delete stage.host.dataset.scene;
      stopListening();
      acts?.stop();
      resolve({ step, records });
    };
    const endOf = (stamp: number, isDue: boolean, isPlayed: boolean): SceneEnd => ({
      by: flipAtNextFrame ?? (isDue ? "time" : isPlayed ? "media" : "answer"),
      frames: Math.round((stamp - onset) / frameMs),
      planned: variable ? null : (end?.frames ?? null),
    });
    const flip = (stamp: number, isDue: boolean, isPlayed: boolean) => {
      const ended = shown === null ? undefined : endOf(stamp, isDue, isPlayed);
      const late = ended?.by === "time" && ended.planned !== null ? Math.max(0, ended.frames - ended.planned) : 0;
      nextFrom = countsFrom(block, end, ended?.by);
      flipAtNextFrame = null;
      // What plays tells what it still has to tell of the scene that is over before the next one is on.
      if (shown !== null) plays.get(shown)?.end(stamp);
      const step = tell({ kind: "flip", at: clock.at(stamp), late, ended }, stamp);
      if (isOver()) finish(step, stamp);
    };
    const lookAhead = (stamp: number) => {
      if (foreseen || end === null || end.due - stamp > framesAhead * frameMs) return;
      foreseen = true;
      const next = machine.foresee(state);
      if (next !== null) plays.get(next)?.ahead(foreseenEnd(end, frameMs, variable));
    };
    const onFrame = (stamp: number) => {
      refresh.frame(stamp);
      if (signal?.aborted) return finish({ state, commands: [] }, stamp);
      const why = interruption?.() ?? null;
      if (why !== null && isBrokenOff) {
        // Before its first scene there is nothing to break off yet.
        const step = shown === null ? null : tell({ kind: "break-off", at: clock.at(stamp), why }, stamp);
        if (step && isOver()) return finish(step, stamp);
      } else if (why !== null && !isInterrupted) {
        isInterrupted = true;
        tell({ kind: "interrupted", why }, stamp);
      }
      if (shown !== null) {
        acts?.frame(stamp);
        const given = outside?.take();
        if (given) tell({ kind: "act", at: clock.at(stamp), happened: given }, stamp);
        const due = machine.due(state);
        const at = clock.at(stamp);
        // In the frame nearest to its time.
        if (due !== null && at >= due - (frameMs * speed()) / 2)
          tell({ kind: "act", at: Math.max(at, due), happened: { on: "time" } }, stamp);
      }
      const isDue = end !== null && endsAt(end, stamp, frameMs, variable);
      const isPlayed = shown !== null && waitsForMedia.has(shown) && plays.get(shown)?.isOver() === true;
      if (flipAtNextFrame !== null || isDue || isPlayed) {
        flip(stamp, isDue, isPlayed);
        if (isOver()) return;
      } else if (shown !== null) {
        plays.get(shown)?.frame(stamp);
        lookAhead(stamp);
      }
      requestAnimationFrame(onFrame);
    };
    requestAnimationFrame(onFrame);
  });
}
