import { isValueOf, type Entries } from "../../questions/entry";
import type { PageAnswer } from "../../records/page-answer";
import type { LeftBy, PageRecord } from "../../records/record";
import { mostActs } from "../../records/rule-bounds";
import type { Happening } from "../../rules/trigger";
import type { Id } from "../../values/ref";
import { holds } from "../../values/resolve";
import { answersOf, askedOn, entriesOf, formIn, pageIn, plannedPage, problemsIn } from "../form";
import { withoutPartTimers } from "../timers";
import { toldOf } from "../told";
import {
  contextIn,
  stay,
  type Course,
  type Destination,
  type EventOf,
  type InPage,
  type Leaving,
  type SessionEvent,
  type SessionState,
  type Step,
} from "../state";

/** Comes to a page; one that was left before has the answers it had. */
export function enterPage(course: Course, state: SessionState, part: number, id: Id): Step {
  const phase: InPage = { kind: "page", part, shown: null, entries: {}, reminded: null, acts: [] };
  const before = askedOn(course, phase).flatMap(({ id: question }) => state.given[question] ?? []);
  return {
    state: { ...state, phase: { ...phase, entries: entriesOf(before) } },
    commands: [{ kind: "show-page", part: id }],
  };
}

/** Comes to a page that a rule shows, for the first time or once more: nothing is filled in on it. */
export function enterAside(state: SessionState, part: number, page: Id, then: Destination): Step {
  const chain = (state.phase.kind === "page" ? (state.phase.aside?.chain ?? 0) : 0) + 1;
  const phase: InPage = {
    kind: "page",
    part,
    shown: null,
    entries: {},
    reminded: null,
    acts: [],
    aside: { page, then, chain },
  };
  return { state: { ...state, phase }, commands: [{ kind: "show-page", part: page }] };
}

/** A page is read and answered until the participant continues, goes back, or its time is up. */
export function inPage(course: Course, state: SessionState, phase: InPage, event: SessionEvent): Step | Leaving {
  switch (event.kind) {
    case "page-shown":
      return phase.shown === null
        ? turned(
            course,
            course.rules.react(course, { ...state, phase: { ...phase, shown: event.at } }, [{ on: "part-begins" }]),
          )
        : stay(state);
    case "act":
      return acted(course, state, phase, event);
    case "page-answer":
      return stay({ ...state, phase: { ...phase, entries: withEntry(course, phase, event.entry) } });
    case "remind":
      return stay({ ...state, phase: { ...phase, reminded: phase.reminded ?? event.at } });
    case "page-left": {
      // Before a session is left for good: what was answered so far is kept.
      const left = leavePage(course, state, phase, event.at, "withdrawn");
      return left ? { ...left, destination: { to: "nowhere", phase: { ...phase, shown: null } } } : stay(state);
    }
    case "back": {
      const before = pageBefore(course, state, phase);
      const left = before === null ? null : leavePage(course, state, phase, event.at, "back");
      return left && before !== null ? { ...left, destination: { to: "part", part: before } } : stay(state);
    }
    case "time-up": {
      const most = pageIn(course, plannedPage(course, phase)).time?.most;
      const isUp = most !== undefined && phase.shown !== null && event.at - phase.shown >= most * 1000 - earlyMs;
      const left = isUp ? leavePage(course, state, phase, event.at, "time") : null;
      return left ?? stay(state);
    }
    case "continue": {
      if (phase.shown === null) return stay(state);
      const { lines } = formIn(course, state, phase);
      const problems = problemsIn(lines, phase.reminded !== null);
      if (problems.length === 0) return leavePage(course, state, phase, event.at) ?? stay(state);
      return {
        state: { ...state, phase: { ...phase, reminded: phase.reminded ?? event.at } },
        commands: [{ kind: "ask-again", problems }],
      };
    }
    default:
      return stay(state);
  }
}

/** Rules reacted while the page was on: where they send the session elsewhere, it is left. */
function turned(course: Course, { state, commands }: Step): Step | Leaving {
  const left = state.jumps.length > 0 ? leavePage(course, state, state.phase as InPage, state.now, "rule") : null;
  return left ? { ...left, before: commands } : { state, commands };
}

/** Something rules wait for: it is kept where one is set off by it, or where its time has come. */
function acted(course: Course, state: SessionState, phase: InPage, { at, happened }: EventOf<"act">): Step | Leaving {
  if (phase.shown === null || phase.acts.length >= mostActs) return stay(state);
  if (!course.rules.isHeard(course, state, happened)) return stay(state);
  const act = { at, scenesShown: 0, order: phase.acts.length + 1, happened };
  const kept: SessionState = { ...state, phase: { ...phase, acts: [...phase.acts, act] } };
  return turned(course, course.rules.takeAct(course, kept, happened));
}

/** So far, in ms, clocks of the page and of its timer may differ. */
const earlyMs = 250;

/** The entries with one more; of a question that is not on the page, or whose answer has another form, nothing is taken. */
function withEntry(
  course: Course,
  phase: InPage,
  entry: Extract<SessionEvent, { kind: "page-answer" }>["entry"],
): Entries {
  const question = askedOn(course, phase).find(({ id }) => id === entry.question);
  const fits = question && (entry.value === null || isValueOf(question.kind, entry.value));
  return fits ? { ...phase.entries, [entry.question]: entry } : phase.entries;
}

/**
 * The page to which one may go back from this one: the one played just before it, with nothing but pages between. What
 * was answered before places are given stays as it is: the place may hang on it.
 */
export function pageBefore(course: Course, state: SessionState, phase: InPage): number | null {
  if (phase.aside || !pageIn(course, plannedPage(course, phase)).back) return null;
  const first = phase.part < course.plan.opening ? 0 : course.plan.opening;
  for (let part = phase.part - 1; part >= first; part--) {
    const planned = course.plan.parts[part];
    if (planned?.kind !== "page") return null;
    if (!planned.when || holds(planned.when, contextIn(course, state))) return part;
  }
  return null;
}

/** The page is over: what was answered is recorded and counts from now on. */
function leavePage(course: Course, state: SessionState, phase: InPage, at: number, by?: LeftBy): Leaving | null {
  if (phase.shown === null) return null;
  const planned = plannedPage(course, phase);
  const page = pageIn(course, planned);
  const { lines } = formIn(course, state, phase);
  const answers = answersOf(course, phase, lines, by === "time");
  const entry: Omit<PageRecord, "number"> = {
    kind: "page",
    part: planned.part,
    shown: phase.shown,
    done: at,
    ...(answers.length > 0 ? { answers } : {}),
    ...(phase.reminded === null ? {} : { reminded: phase.reminded }),
    ...(by === undefined ? {} : { left: by }),
    ...(phase.acts.length > 0 ? { acts: [...phase.acts] } : {}),
  };
  const counts = by !== "back" && by !== "withdrawn";
  const counted = withAnswers(course, state, answers, counts);
  const ending = counts ? endingOf(course, counted, page.endings) : undefined;
  const destination: Destination = ending
    ? { to: "end", ended: { as: ending.as, part: planned.part, ending: ending.id } }
    : (phase.aside?.then ?? { to: "part", part: phase.part + 1 });
  if (!counts) return { state: counted, at, entry, destination };
  const answered = answers.flatMap(({ question, state: stands }): Happening[] =>
    stands === "answered" ? [{ on: "question", question }] : [],
  );
  const told = course.rules.react(course, counted, [...answered, { on: "part-ends" }]);
  return { state: withoutPartTimers(told.state, planned.part), at, entry, destination, before: told.commands };
}

const endingOf = (course: Course, state: SessionState, endings: ReturnType<typeof pageIn>["endings"]) => {
  const context = contextIn(course, { ...state, phase: { kind: "done" } });
  return endings.find(({ when }) => holds(when, context));
};

/** Keeps what was answered; where the page was left for good it counts, instead of what had counted before. */
function withAnswers(
  course: Course,
  state: SessionState,
  answers: readonly PageAnswer[],
  counts: boolean,
): SessionState {
  const given = { ...state.given, ...Object.fromEntries(answers.map((answer) => [answer.question, answer])) };
  if (!counts) return { ...state, given };
  const outcomes = {
    ...state.answers,
    ...Object.fromEntries(answers.map(({ question, state: stands, value }) => [question, { state: stands, value }])),
  };
  const told = answers.length > 0 ? toldOf(course.document, outcomes) : state.tally.answers;
  return { ...state, given, answers: outcomes, tally: { ...state.tally, answers: told } };
}
