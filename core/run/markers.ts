import type { Block } from "../design/block";
import { blockOf } from "../design/lookup";
import type { AnyMarker, Marked } from "../markers/marker";
import { sentValue } from "../markers/marker";
import { streamFor } from "../random/stream";
import { operandValue } from "../values/resolve";
import {
  contextIn,
  plannedBlock,
  type Course,
  type InTrial,
  type SessionEvent,
  type SessionState,
  type Step,
} from "./state";

/** A marker that is due with a step. */
export type DueMarker = {
  name: string;
  /** Null where its value is empty: then nothing goes out. */
  value: string | null;
  /** When what it marks happened, in session time. */
  at: number;
};

/**
 * The markers that are due with one step of the machine, in their order: `before` is the state it was told `event` in. Pure, like
 * the machine: a session that is played again has the same ones.
 */
export function markersAt(
  course: Course,
  before: SessionState,
  event: SessionEvent,
  { state, commands }: Step,
): DueMarker[] {
  const at = "at" in event ? event.at : event.kind === "observed" ? event.observation.at : state.now;
  const due: DueMarker[] = [];
  const send = (all: readonly AnyMarker[], marks: (at: AnyMarker["at"]) => boolean, seen: SessionState) => {
    for (const { name, at: marked, value } of all)
      if (marks(marked)) due.push({ name, value: valueOf(course, seen, value), at });
  };
  const was = before.phase.kind === "trial" ? before.phase : null;
  const is = state.phase.kind === "trial" ? state.phase : null;
  if (was) {
    const block = blockOf(course.document, plannedBlock(course, was).part);
    const { markers = [] } = block;
    if (markers.length > 0) {
      const isSame =
        is !== null && is.part === was.part && is.trial === was.trial && is.scenes.length >= was.scenes.length;
      const played = isSame ? is : null;
      for (const happened of answersIn(block, was, played)) send(markers, isThis(happened), state);
      if (event.kind === "observed" && event.observation.what === "began" && hasOwnTime(block, event.observation.item))
        send(markers, isThis({ on: "item-begins", item: event.observation.item }), state);
      const shown = commands.find((command) => command.kind === "show-scene");
      if (shown && played) {
        if (was.scene < 0 && was.trial === 0) send(markers, isThis({ on: "block-begins" }), state);
        if (was.scene < 0) send(markers, isThis({ on: "trial-begins" }), state);
        send(markers, isThis({ on: "scene-begins", scene: shown.scene }), state);
        for (const { id } of block.scenes.find((scene) => scene.id === shown.scene)?.items ?? [])
          if (!hasOwnTime(block, id)) send(markers, isThis({ on: "item-begins", item: id }), state);
      }
      if (!played && was.scene >= 0) {
        send(markers, isThis({ on: "trial-ends" }), before);
        const { phase } = state;
        const isStill =
          (phase.kind === "trial" || phase.kind === "break") && phase.part === was.part && phase.trial > 0;
        if (!isStill) send(markers, isThis({ on: "block-ends" }), before);
      }
    }
  }
  if (before.phase.kind !== "done" && state.phase.kind === "done")
    send(course.document.markers ?? [], isThis({ on: "session-ends" }), state);
  return due;
}

/** The markers of a session that begins. */
export const markersAtStart = (course: Course, state: SessionState): DueMarker[] =>
  (course.document.markers ?? []).flatMap(({ name, at, value }) =>
    at.on === "session-begins" ? [{ name, value: valueOf(course, state, value), at: state.now }] : [],
  );

const isThis =
  (happened: Marked | { on: "session-ends" }) =>
  (marked: AnyMarker["at"]): boolean => {
    if (marked.on !== happened.on) return false;
    if (marked.on === "scene-begins") return marked.scene === (happened as typeof marked).scene;
    if (marked.on === "item-begins") return marked.item === (happened as typeof marked).item;
    if (marked.on !== "answer") return true;
    const given = happened as typeof marked;
    return marked.answer === given.answer && marked.how === given.how;
  };

const hasOwnTime = ({ scenes }: Block, id: string): boolean =>
  scenes.some(({ items }) => items.some((item) => item.id === id && item.begins !== undefined));

/** The answers that came with a step. */
function answersIn({ answers }: Block, was: InTrial, is: InTrial | null): Extract<Marked, { on: "answer" }>[] {
  if (!is) return [];
  return answers.flatMap(({ id }, index) => {
    const [old, now] = [was.answers[index], is.answers[index]];
    if (!now?.given || old?.given) return [];
    const how = now.right === null ? [] : [now.right ? ("right" as const) : ("wrong" as const)];
    return (["given", ...how] as const).map((each) => ({ on: "answer" as const, answer: id, how: each }));
  });
}

/** A marker's value as it stands now. Draws come from a stream of their own. */
function valueOf(course: Course, state: SessionState, value: AnyMarker["value"]): string | null {
  const stream = streamFor(course.document.settings.seed, course.plan.participant, "markers", state.nextRecord);
  return sentValue(operandValue(value, contextIn(course, state), stream));
}
