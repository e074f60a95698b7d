import { trialAt } from "../block-run";
import {
  plannedBlock,
  stay,
  type Course,
  type InBreak,
  type Leaving,
  type SessionEvent,
  type SessionState,
  type Step,
} from "../state";

export const enterBreak = (course: Course, state: SessionState, part: number, trial: number): Step => ({
  state: { ...state, phase: { kind: "break", part, trial, shown: null } },
  commands: [{ kind: "show-break", part: plannedBlock(course, { part }).part }],
});

/** A break within a block lasts until the participant continues; what has become due meanwhile is done as it ends. */
export function inBreak(course: Course, state: SessionState, phase: InBreak, event: SessionEvent): Step | Leaving {
  if (event.kind === "page-shown") return stay({ ...state, phase: { ...phase, shown: phase.shown ?? event.at } });
  if (event.kind !== "continue" || phase.shown === null) return stay(state);
  const { part } = plannedBlock(course, phase);
  const after = trialAt(course, state, phase.part, phase.trial).trial - 1;
  const isDue = course.rules.isHeard(course, state, { on: "time" });
  const { state: over, commands } = isDue ? course.rules.takeAct(course, state, { on: "time" }) : stay(state);
  return {
    state: over,
    at: event.at,
    before: commands,
    entry: { kind: "break", part, after, shown: phase.shown, done: event.at },
    destination: { to: "trial", part: phase.part, trial: phase.trial },
  };
}
