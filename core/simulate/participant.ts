import { shareRight } from "../adaptive/curve";
import { endsOf, placeOf } from "../adaptive/range";
import { noPlace, type Place } from "../order/place";
import type { Assignment } from "../allocate/scheme";
import { openingOf } from "../order/opening";
import { compile, type PlannedTrial } from "../compile/compile";
import { partMinutes } from "../compile/minutes";
import type { AnswerSpec } from "../design/answer";
import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import { streamFor, type Stream } from "../random/stream";
import { acceptedBy, possibleInputs } from "../devices/device";
import { formIn } from "../run/form";
import { sessionMachine } from "../run/session-machine";
import type { SessionMachine } from "../run/machine";
import { exampleDevice } from "../values/device";
import { blockIn, type Given, type InTrial, type SessionState } from "../run/state";
import { countsFrom, plannedEnd } from "../timing/scene-end";
import type { Input } from "../devices/input";
import type { SceneEnd, SessionRecord } from "../records/record";
import type { Context } from "../values/context";
import { matches, rightAnswer } from "../run/scoring";
import { exGaussian, normal } from "./distributions";
import { plainForms, simulatedEntry, type FormModel } from "./form";
import { itemsIn } from "../design/lookup";
import { deviceKind } from "../devices/registry";
import { playedMs } from "../items/item";
import type { Id } from "../values/ref";

/** What a level of a factor does: adds to the reaction time and to the share of wrong answers. */
export type Effect = { column: string; level: string; addMs: number; addErrors: number; sdMs: number };
/** How simulated participants answer. Times in milliseconds, shares from 0 to 1. */
export type AnswerModel = {
  mu: number;
  sigma: number;
  tau: number;
  /** Deviation between participants of their mean time. */
  personSd: number;
  errors: number;
  /** Share of trials without any answer. */
  lapses: number;
  effects: Effect[];
  /** Share of scenes whose end the simulated computer shows one frame late. */
  lateScenes: number;
  /** How pages are filled in. */
  forms?: FormModel;
};
export const plainModel: AnswerModel = {
  mu: 380,
  sigma: 45,
  tau: 90,
  personSd: 35,
  errors: 0.04,
  lapses: 0.01,
  effects: [],
  lateScenes: 0,
};

/** Length of a frame of the simulated display, in milliseconds: 60 Hz. */
const frame = 1000 / 60;

export type SimulatedSession = {
  /** 0 where the session ended before it had a place. */
  participant: number;
  assignment: Assignment;
  records: SessionRecord[];
  finished: boolean;
};

/** Gives a session its place when it comes to where places are given, by what it has recorded until then. */
export type PlaceGiver = (records: readonly SessionRecord[]) => Place;

/**
 * Plays one whole session through the real machine on a simulated 60 Hz display. `entered` says where the
 * participant stands among all who began, from 1; it is their number unless `place` gives them another after the first pages.
 * `stopAfterTrials` breaks it off there, as someone who closes the window; `given` is what variables start with. The same seed gives the same records.
 */
export function simulateSession(
  document: StudyDocument,
  entered: number,
  place: Assignment | PlaceGiver,
  seed: string,
  model: AnswerModel,
  stopAfterTrials = Infinity,
  given: Given = {},
): SimulatedSession {
  const machineOf = ({ participant, group, orders }: Place) =>
    sessionMachine(document, compile(document, participant, seed, group, orders, entered), {
      given,
      device: exampleDevice,
    });
  let mine: Place = typeof place === "function" ? noPlace : { participant: entered, ...place };
  if (typeof place === "function" && openingOf(document).length === 0) mine = place([]);
  let machine = machineOf(mine);
  const stream = streamFor(seed, entered, "simulated answers");
  // A stream of its own, so that questions shift no reaction time.
  const answering = streamFor(seed, entered, "simulated forms");
  const groupName = () => document.groups.find(({ id }) => id === mine.group)?.name ?? "";
  const display = streamFor(seed, entered, "simulated display");
  const person: Person = {
    base: model.personSd * normal(stream),
    effects: model.effects.map((effect) => effect.addMs + effect.sdMs * normal(stream)),
    threshold: (column) => 0.5 + 0.1 * normal(streamFor(seed, entered, "simulated threshold", column)),
  };
  const records: SessionRecord[] = [];
  let clock = 0;
  let trials = 0;
  let step = machine.begin();
  let pending: Pending[] = [];
  let opened = new Set<number>();
  let nextFrom: number | undefined;

  /** Answers a page's questions one after the other, those that come up by an answer included. */
  const fillIn = (from: number) => {
    const done = new Set<string>();
    for (;;) {
      const { phase } = step.state;
      if (phase.kind !== "page") return;
      const { lines } = formIn(machine.course, step.state, phase);
      const next = lines.find(({ question, isShown }) => isShown && !done.has(question.id));
      if (!next) return;
      done.add(next.question.id);
      const at = rounded(from + ((clock - from) * done.size) / (lines.length + 1));
      const entry = simulatedEntry(next.question, groupName(), model.forms ?? plainForms, at, answering);
      if (entry) send({ kind: "page-answer", entry });
    }
  };
  const simulated = (finished: boolean): SimulatedSession => {
    const { participant, group, orders } = mine;
    return { participant, assignment: { group, orders }, records, finished };
  };
  const send = (event: Parameters<typeof machine.next>[1]) => {
    step = machine.next(step.state, event);
    for (const command of step.commands) if (command.kind === "record") records.push(command.record);
  };
  /** Tells the machine of what is due on the page until then; whether a rule has left the page meanwhile. */
  const isLeftByRule = (until: number): boolean => {
    const record = step.state.nextRecord;
    for (let due = machine.due(step.state); due !== null && due <= until; due = machine.due(step.state)) {
      const at = rounded(Math.max(due, step.state.now));
      send({ kind: "act", at, happened: { on: "time" } });
      if (step.state.nextRecord !== record) {
        clock = onFrame(at + frame);
        return true;
      }
    }
    return step.state.nextRecord !== record;
  };
  for (;;) {
    const { phase } = step.state;
    if (phase.kind === "done") return simulated(true);
    if (phase.kind === "place") {
      // Without anybody to give one it ends here.
      if (typeof place !== "function") return simulated(false);
      mine = place(records);
      machine = machineOf(mine);
      send({ kind: "placed" });
      continue;
    }
    if (phase.kind === "page" || phase.kind === "break") {
      const shown = step.state.nextRecord;
      send({ kind: "page-shown", at: clock });
      if (step.state.nextRecord !== shown) continue;
      const part = machine.course.plan.parts[phase.part];
      // A break is as short as the shortest page.
      const shownPart = phase.kind === "page" ? (phase.aside?.page ?? part?.part) : undefined;
      const minutes = shownPart === undefined ? shortestPage : partMinutes(document, shownPart);
      const begun = clock;
      clock = onFrame(clock + 60_000 * minutes * (0.7 + 0.6 * stream.unit()));
      if (phase.kind === "page") fillIn(begun);
      if (phase.kind === "page" && isLeftByRule(clock)) continue;
      send({ kind: "continue", at: clock });
      // Once more after the reminder; whoever still cannot go on leaves.
      if (step.commands.some(({ kind }) => kind === "ask-again")) send({ kind: "continue", at: clock });
      if (step.commands.some(({ kind }) => kind === "ask-again")) send({ kind: "withdraw", at: clock });
      continue;
    }
    const answerWhatOpened = () => {
      const { phase: now } = step.state;
      if (now.kind !== "trial") return;
      now.answers.forEach(({ openedAt }, index) => {
        if (openedAt === null || opened.has(index)) return;
        opened.add(index);
        const drawn = answerFrom(machine, step.state, index, model, person, stream);
        if (drawn) pending = [...pending, drawn].sort((a, b) => a.at - b.at);
      });
    };
    if (phase.scene === -1) {
      if (trials++ >= stopAfterTrials) return simulated(false);
      [pending, opened] = [[], new Set()];
      clock = onFrame(clock + 1.5 * frame);
      nextFrom = undefined;
      send({ kind: "flip", at: clock, late: 0 });
      answerWhatOpened();
      continue;
    }
    const lasts = phase.scenes.at(-1)?.planned ?? null;
    const block = blockIn(machine.course, phase);
    const played = lasts === null ? mediaLength(block, phase, machine.context(step.state)) : null;
    const isTimed = lasts !== null;
    const onset = clock;
    const end = plannedEnd(onset, lasts ?? played ?? Infinity, frame, nextFrom);
    const due = onset + end.frames * frame;
    const flip = (by: SceneEnd["by"], late: number) => {
      const frames = Math.round((clock - onset) / frame);
      nextFrom = countsFrom(block, end, by);
      send({ kind: "flip", at: clock, late, ended: { by, frames, planned: isTimed ? end.frames : null } });
      answerWhatOpened();
    };
    const flipIfAsked = (at: number) => {
      const asked = step.commands.find((command) => command.kind === "flip-now");
      if (asked?.kind !== "flip-now") return;
      clock = onFrame(at + frame);
      flip(asked.by, 0);
    };
    const isAsked = step.commands.some((command) => command.kind === "flip-now" && command.by === "rule");
    if (isAsked) {
      // A rule has gone on as this scene came on.
      flipIfAsked(clock);
      continue;
    }
    const [first] = pending;
    const waits = machine.due(step.state) ?? Infinity;
    if (first && first.at < due && first.at <= waits) {
      pending = pending.slice(1);
      send({ kind: "input", at: first.at, input: first.input });
      flipIfAsked(first.at);
      continue;
    }
    const ruleDue = machine.due(step.state);
    if (ruleDue !== null && ruleDue < due) {
      const at = rounded(Math.max(ruleDue, step.state.now));
      send({ kind: "act", at, happened: { on: "time" } });
      flipIfAsked(at);
      continue;
    }
    if (due === Infinity) return simulated(false);
    const late = isTimed && display.unit() < model.lateScenes ? 1 : 0;
    clock = rounded(due + late * frame);
    flip(isTimed ? "time" : "media", late);
  }
}

/** A simulated participant. Thresholds are shares of the way from the hardest value to the easiest. */
type Person = { base: number; effects: number[]; threshold: (column: Id) => number };

/** The share right that the values which follow the answers leave: by the function that is fitted to them. */
function shareSeen({ table }: Block, { planned }: InTrial, threshold: Person["threshold"]): number {
  return table.columns.reduce((share, { id, follows }) => {
    const value = planned.settled?.[id];
    if (!follows || value === undefined) return share;
    const { by } = follows;
    const { hardest, easiest } = endsOf(by);
    const spread = Math.sqrt(by.spreadFrom * by.spreadTo);
    const location = hardest + threshold(id) * (easiest - hardest);
    return share * shareRight(by, location, spread, placeOf(by, value));
  }, 1);
}

/** In minutes. */
const shortestPage = 5 / 60;

type Pending = { at: number; input: Input };
const rounded = (ms: number) => Math.round(ms * 1000) / 1000;
const onFrame = (ms: number) => rounded(Math.floor(ms / frame) * frame);

/** Draws one answer when its window has just opened; null in a lapse, or where it cannot be given. */
function answerFrom(
  machine: SessionMachine,
  state: SessionState,
  index: number,
  model: AnswerModel,
  person: Person,
  stream: Stream,
): Pending | null {
  const { phase } = state;
  if (phase.kind !== "trial") return null;
  const block = blockIn(machine.course, phase);
  const context = machine.context(state);
  const spec = block.answers[index];
  const openedAt = phase.answers[index]?.openedAt ?? null;
  if (!spec || openedAt === null) return null;
  const lapse = stream.unit() < model.lapses;
  let [addMs, errors] = [person.base, model.errors];
  model.effects.forEach((effect, each) => {
    if (levelOf(block, effect.column, context.values) !== effect.level) return;
    addMs += person.effects[each] ?? 0;
    errors += effect.addErrors;
  });
  errors = 1 - (1 - errors) * shareSeen(block, phase, person.threshold);
  const rt = Math.max(120, exGaussian(model.mu + addMs, model.sigma, model.tau, stream));
  const wrong = stream.unit() < errors;
  const input = inputFor(spec, block, context, wrong, stream);
  return lapse || !input ? null : { at: rounded(openedAt + rt), input };
}

/** An input that gives the right answer, or any other when it is to be wrong or none is right. */
function inputFor(spec: AnswerSpec, block: Block, context: Context, wrong: boolean, stream: Stream): Input | null {
  const wanted = rightAnswer(spec, context);
  const possible = possibleInputs(spec, context, itemsIn(block));
  if (!possible) {
    const [device] = spec.by;
    const { giving } = device ? deviceKind(device.device) : {};
    return (device && giving?.(device, wanted === null || wrong ? "none" : String(wanted))) ?? null;
  }
  const isWanted = (input: Input) =>
    wanted !== null && matches(spec, acceptedBy(spec, input, context) ?? input.value, String(wanted), input.device);
  const right = possible.find(isWanted);
  const others = possible.filter((input) => !isWanted(input));
  const other = others.length > 0 ? others[stream.whole(0, others.length - 1)] : undefined;
  return (right && !wrong ? right : other) ?? null;
}

function mediaLength({ scenes }: Block, { scenes: shown }: InTrial, context: Context): number | null {
  const scene = scenes.find(({ id }) => id === shown.at(-1)?.scene);
  return scene?.lasts.kind === "media-end" ? playedMs(scene.items, context) : null;
}

const levelOf = (block: Block, name: string, values: PlannedTrial["values"]) => {
  const column = block.table.columns.find((each) => each.name === name);
  return column ? String(values[column.id] ?? "") : null;
};
