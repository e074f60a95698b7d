import type { Id } from "../../values/ref";
import {
  stay,
  type Course,
  type InPage,
  type Leaving,
  type SessionEvent,
  type SessionState,
  type Step,
} from "../state";

export const enterPage = (state: SessionState, part: number, id: Id): Step => ({
  state: { ...state, phase: { kind: "page", part, shown: null } },
  commands: [{ kind: "show-page", part: id }],
});

/** A page is read until the participant continues. */
export function inPage({ plan }: Course, state: SessionState, phase: InPage, event: SessionEvent): Step | Leaving {
  if (event.kind === "page-shown") return stay({ ...state, phase: { ...phase, shown: phase.shown ?? event.at } });
  if (event.kind !== "continue" || phase.shown === null) return stay(state);
  const part = plan.parts[phase.part]?.part as Id;
  return {
    state,
    at: event.at,
    entry: { kind: "page", part, shown: phase.shown, done: event.at },
    destination: { to: "part", part: phase.part + 1 },
  };
}
