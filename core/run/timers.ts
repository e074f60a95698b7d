import type { Id } from "../values/ref";
import type { SessionState, Step, Timer } from "./state";

/*
 * What rules have put off until later.
 */

/** The rule or action that is due first; where several are, the one that was set first. */
export const nextTimer = ({ timers }: SessionState): Timer | null =>
  timers.reduce<Timer | null>(
    (first, each) => (each.fromOnset || (first && first.due <= each.due) ? first : each),
    null,
  );

/** Whether something is due by now. */
export const isTimeUp = (state: SessionState): boolean => (nextTimer(state)?.due ?? Infinity) <= state.now;

/** Without what was to come later in a trial that is over. */
export const withoutTrialTimers = (state: SessionState): SessionState =>
  state.timers.some(({ lasts }) => lasts === "trial")
    ? { ...state, timers: state.timers.filter(({ lasts }) => lasts !== "trial") }
    : state;

/** Without what was to come later in a part that is over; what another part waits for stays. */
export const withoutPartTimers = (state: SessionState, over: Id): SessionState =>
  state.timers.length === 0
    ? state
    : {
        ...state,
        timers: state.timers.filter(({ lasts, part }) => lasts === "session" || (lasts === "part" && part !== over)),
      };

/** What was to come so long after the beginning of a trial counts from its first onset. */
export const fromOnset = (state: SessionState): SessionState =>
  state.timers.some((each) => each.fromOnset)
    ? {
        ...state,
        timers: state.timers.map((each) =>
          each.fromOnset ? { ...each, due: thousandth(each.due + state.now), fromOnset: false } : each,
        ),
      }
    : state;

/** Times are told in thousandths of a millisecond. */
export const thousandth = (ms: number): number => Math.round(ms * 1000) / 1000;

/** One step after another, as one. */
export const after = (step: Step, next: Step): Step => ({
  state: next.state,
  commands: [...step.commands, ...next.commands],
});
