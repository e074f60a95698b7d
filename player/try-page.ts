import { compile } from "~/core/compile/compile";
import type { StudyDocument } from "~/core/design/document";
import { questionsOf } from "~/core/design/questions";
import { isValueOf, type Entries } from "~/core/questions/entry";
import { sessionMachine } from "~/core/run/session-machine";
import { nothingYet } from "~/core/run/machine";
import { enterPage } from "~/core/run/phases/page";
import type { SessionEvent, SessionState } from "~/core/run/state";
import type { Id } from "~/core/values/ref";
import type { Tally } from "~/core/values/tally";
import { mediaKind } from "~/core/media/types";
import { addFont } from "./fonts";
import { words } from "./facts";
import { playPage } from "./page-play";
import { pressed, say } from "./pages/page";
import { loadDrawers } from "./questions/drawers";

/** A page to be tried while it is designed: the study with nothing but it in its running order, and whose it is. */
export type TriedPage = {
  document: StudyDocument;
  part: Id;
  group: Id;
  participant: number;
  seed: string;
  /** What has happened before, made up. */
  tally: Tally;
  /** Where media lie, by id. */
  media: Record<Id, string>;
  /** What is said where the page would go on; the researcher reads it. */
  goesOn: { title: string; again: string };
};

/** What was answered on the page tried last, so that a change of its design does not take it. */
let tried: { part: Id; entries: Entries } | null = null;
let playing: { stop: () => void } | null = null;

/** Plays one page by the session machine, from its coming to its end, again and again. */
export async function tryPage(
  into: HTMLElement,
  { document, part, group, participant, seed, tally, media, goesOn }: TriedPage,
) {
  const page = document.parts[part];
  if (page?.kind !== "page") return;
  await Promise.all([
    loadDrawers(questionsOf(page).map(({ kind }) => kind)),
    ...document.media
      .filter(({ mime }) => mediaKind(mime) === "font")
      .map((file) => addFont(file, `url("${media[file.id]}")`).catch(() => undefined)),
  ]);
  playing?.stop();
  const machine = sessionMachine(document, compile(document, participant, seed, group));
  const index = machine.course.plan.parts.findIndex((each) => each.part === part);
  if (index < 0) return;
  const begun = performance.now();
  const now = () => performance.now() - begun;
  let state: SessionState = enterPage(machine.course, { ...nothingYet, tally }, index, part).state;
  const before = tried?.part === part ? tried.entries : {};
  const fitting = Object.fromEntries(
    questionsOf(page).flatMap(({ id, kind }) => {
      const entry = before[id];
      return entry && (entry.value === null || isValueOf(kind, entry.value)) ? [[id, entry] as const] : [];
    }),
  );
  const { left, stop } = playPage(
    into,
    page,
    {
      machine,
      state: () => state,
      tell: (event: SessionEvent) => {
        const step = machine.next(state, event);
        state = step.state;
        return step.commands;
      },
      now,
      draft: {
        found: () => ({ record: 1, shown: 0, reminded: null, entries: fitting }),
        keep: ({ entries }) => (tried = { part, entries }),
      },
      mediaUrl: (id) => media[id] ?? null,
      takesFocus: () => globalThis.document.hasFocus(),
    },
    null,
  );
  playing = { stop };
  await left;
  tried = null;
  const ended = say(into, [goesOn.title]);
  await pressed(ended, [goesOn.again || words("tryAgain")]);
  void tryPage(into, { document, part, group, participant, seed, tally, media, goesOn });
}
