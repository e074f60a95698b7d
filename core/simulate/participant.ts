import { compile, type PlannedTrial } from "../compile/compile";
import { blockOf } from "../design/lookup";
import type { Block, Id, StudyDocument } from "../design/types";
import { streamFor, type Stream } from "../order/random";
import { resolve } from "../run/resolve";
import { sameKey, sessionMachine, type SessionState } from "../run/machine";
import type { SessionRecord } from "../run/records";
import { exGaussian, normal } from "./distributions";

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
};
export const plainModel: AnswerModel = {
  mu: 380,
  sigma: 45,
  tau: 90,
  personSd: 35,
  errors: 0.04,
  lapses: 0.01,
  effects: [],
};

/** Length of a frame of the simulated display, in milliseconds: 60 Hz. */
const frame = 1000 / 60;

export type SimulatedSession = { participant: number; group: Id; records: SessionRecord[]; finished: boolean };

/**
 * Plays one whole session through the real machine on a simulated 60 Hz display.
 * `stopAfterTrials` breaks it off there, as someone who closes the window. The same seed gives the same records.
 */
export function simulateSession(
  document: StudyDocument,
  participant: number,
  group: Id,
  seed: string,
  model: AnswerModel,
  stopAfterTrials = Infinity,
): SimulatedSession {
  const machine = sessionMachine(document, compile(document, participant, seed, group));
  const stream = streamFor(seed, participant, "simulated answers");
  const person = {
    base: model.personSd * normal(stream),
    effects: model.effects.map((effect) => effect.addMs + effect.sdMs * normal(stream)),
  };
  const records: SessionRecord[] = [];
  let clock = 0;
  let trials = 0;
  let step = machine.begin();
  let pending: { at: number; value: string } | null = null;

  const send = (event: Parameters<typeof machine.next>[1]) => {
    step = machine.next(step.state, event);
    for (const command of step.commands) if (command.kind === "record") records.push(command.record);
  };
  for (;;) {
    const { phase } = step.state;
    if (phase.kind === "done") return { participant, group, records, finished: true };
    if (phase.kind === "page") {
      send({ kind: "page-shown", at: clock });
      clock = onFrame(clock + 4000 + 9000 * stream.unit());
      send({ kind: "continue", at: clock });
      continue;
    }
    if (phase.scene === -1) {
      if (trials++ >= stopAfterTrials) return { participant, group, records, finished: false };
      pending = null;
      clock = onFrame(clock + 1.5 * frame);
      send({ kind: "flip", at: clock, late: 0 });
      pending ??= answerFrom(step.state, machine.context(step.state), document, model, person, stream);
      continue;
    }
    const planned = phase.scenes.at(-1)?.planned ?? null;
    const due = planned === null ? Infinity : clock + Math.max(1, Math.round(planned / frame)) * frame;
    if (pending && pending.at < due) {
      const at = pending.at;
      send({ kind: "answer", at, value: pending.value });
      pending = null;
      if (step.commands.some(({ kind }) => kind === "flip-now")) {
        clock = onFrame(at + frame);
        send({ kind: "flip", at: clock, late: 0 });
      }
      continue;
    }
    if (due === Infinity) return { participant, group, records, finished: false };
    clock = rounded(due);
    const wasOpen = phase.openedAt !== null;
    send({ kind: "flip", at: clock, late: 0 });
    if (!wasOpen) pending = answerFrom(step.state, machine.context(step.state), document, model, person, stream);
  }
}

const rounded = (ms: number) => Math.round(ms * 1000) / 1000;
const onFrame = (ms: number) => rounded(Math.floor(ms / frame) * frame);

/** Draws the answer when the window has just opened; null where none has, or in a lapse. */
function answerFrom(
  state: SessionState,
  context: Parameters<typeof resolve>[1],
  document: StudyDocument,
  model: AnswerModel,
  person: { base: number; effects: number[] },
  stream: Stream,
): { at: number; value: string } | null {
  const { phase } = state;
  if (phase.kind !== "trial" || phase.openedAt === null || phase.answer) return null;
  const partId = phase.scenes.length > 0 ? blockWithScene(document, phase.scenes[0]?.scene) : null;
  const spec = partId?.answers[0];
  if (!partId || !spec) return null;
  const keys = spec.by.flatMap((device) => device.keys.map((key) => String(resolve(key, context) ?? "")));
  const lapse = stream.unit() < model.lapses;
  let [addMs, errors] = [person.base, model.errors];
  model.effects.forEach((effect, index) => {
    if (levelOf(partId, effect.column, context.values) !== effect.level) return;
    addMs += person.effects[index] ?? 0;
    errors += effect.addErrors;
  });
  const rt = Math.max(120, exGaussian(model.mu + addMs, model.sigma, model.tau, stream));
  const wrong = stream.unit() < errors;
  const wanted = spec.right === undefined ? null : resolve(spec.right, context);
  const others = keys.filter((key) => wanted === null || !sameKey(key, String(wanted)));
  const pick = others.length > 0 ? others[stream.whole(0, others.length - 1)] : undefined;
  const value = wanted === null || wrong ? pick : String(wanted);
  return lapse || value === undefined ? null : { at: rounded(phase.openedAt + rt), value };
}

const blockWithScene = (document: StudyDocument, scene: Id | undefined): Block | null => {
  for (const part of Object.values(document.parts))
    if (part.kind === "block" && part.scenes.some(({ id }) => id === scene)) return blockOf(document, part.id);
  return null;
};

const levelOf = (block: Block, name: string, values: PlannedTrial["values"]) => {
  const column = block.table.columns.find((each) => each.name === name);
  return column ? String(values[column.id] ?? "") : null;
};
