import { inList } from "../../core/describe/in-words";
import type { TakeIn } from "./take-in";

const counted = (count: number, one: string, many = `${one}s`) =>
  `${count.toLocaleString("en")} ${count === 1 ? one : many}`;

/** What taking a file in does, or did, in sentences. */
export function takeInInWords({
  study,
  sessions,
  releases,
  waves,
  exclusions,
  recipes,
  definitions,
  gaze,
  codes,
  isWritten,
}: TakeIn): string[] {
  const will = (now: string, done: string) => (isWritten ? done : now);
  const beside = [
    ...(releases.fresh > 0 ? [counted(releases.fresh, "release")] : []),
    ...(waves > 0 ? [`${counted(waves, "wave")}, closed`] : []),
    ...(isWritten && exclusions > 0 ? [counted(exclusions, "set", "sets") + " of exclusions"] : []),
    ...(isWritten && recipes > 0 ? [counted(recipes, "recipe")] : []),
    ...(gaze > 0 ? [`gaze of ${counted(gaze, "session")}`] : []),
    ...(isWritten && definitions > 0 ? [counted(definitions, "score or norm sample", "scores and norm samples")] : []),
  ];
  const is = (count: number) => (count === 1 ? "is" : "are");
  return [
    study.isNew
      ? `“${study.title}” ${will("comes here as a new study", "is here now")}, with the code ${study.code}.`
      : `“${study.title}” (${study.code}) is here already; what is here stays.`,
    sessions.new > 0
      ? `${counted(sessions.new, "session")} ${will(sessions.new === 1 ? "is new" : "are new", sessions.new === 1 ? "was taken in" : "were taken in")}.`
      : "No session is new.",
    ...(sessions.same > 0
      ? [
          `${counted(sessions.same, "session")} ${is(sessions.same)} here already, and ${sessions.same === 1 ? "is" : "are"} passed over.`,
        ]
      : []),
    ...(sessions.longer > 0
      ? [`${counted(sessions.longer, "session")} went on there: what came since ${will("is added", "was added")}.`]
      : []),
    ...(sessions.different > 0
      ? [
          `${counted(sessions.different, "session")} ${is(sessions.different)} different there: what is here stays, and what differs ${will("is kept aside", "was kept aside")}.`,
        ]
      : []),
    ...(sessions.removed > 0
      ? [
          `${counted(sessions.removed, "session")} ${sessions.removed === 1 ? "was" : "were"} removed, here or there, and ${is(sessions.removed)} left alone.`,
        ]
      : []),
    ...(sessions.taken > 0
      ? [
          `${counted(sessions.taken, "session")} ${sessions.taken === 1 ? "has a number" : "have numbers"} that somebody else has here, and ${is(sessions.taken)} left out.`,
        ]
      : []),
    ...(sessions.unreadable > 0
      ? [
          `${counted(sessions.unreadable, "session")} cannot have been recorded by this study, and ${is(sessions.unreadable)} left out.`,
        ]
      : []),
    ...(beside.length > 0 ? [`${isWritten ? "With it came" : "With it come"} ${inList(beside)}.`] : []),
    ...releases.renumbered.map(
      ({ from, to }) => `Release ${from} of the file is release ${to} here, since another has its number.`,
    ),
    codes.there
      ? codes.taken
        ? "Codes of participants are taken in with their sessions."
        : "It holds codes of participants; they are not taken in."
      : "It holds no codes of participants.",
  ];
}

/** What becomes of a session, in a word or two. */
export const fatesInWords: Record<TakeIn["told"][number]["fate"], string> = {
  new: "new",
  same: "here already",
  longer: "went on there",
  different: "different",
  removed: "removed",
  taken: "number taken",
  unreadable: "left out",
};
