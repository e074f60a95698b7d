import type { Page } from "~/core/design/page";
import { formIn, plannedPage } from "~/core/run/form";
import type { SessionMachine } from "~/core/run/machine";
import { pageBefore } from "~/core/run/phases/page";
import type { Command, InPage, SessionEvent, SessionState } from "~/core/run/state";
import type { Id } from "~/core/values/ref";
import type { Draft, DraftKeeper } from "./draft";
import { showForm } from "./pages/form";
import type { Share } from "./pages/page";

/** What a page is played with. */
export type PageCourse = {
  machine: SessionMachine;
  state: () => SessionState;
  /** Tells the machine something; gives what it asks for then. */
  tell: (event: SessionEvent) => Command[];
  /** Milliseconds from the session's start. */
  now: () => number;
  draft: Pick<DraftKeeper, "found" | "keep">;
  mediaUrl: (id: Id) => string | null;
  takesFocus: () => boolean;
};

/** Shows a page the machine has come to, with what was typed on it before a reload, until it is left. */
export function playPage(
  into: HTMLElement,
  page: Page,
  { machine, state, tell, now, draft, mediaUrl, takesFocus }: PageCourse,
  share: Share | null,
): { left: Promise<void>; stop: () => void } {
  const phase = () => state().phase as InPage;
  const record = state().nextRecord;
  const found = draft.found(record);
  tell({ kind: "page-shown", at: found?.shown ?? now() });
  // A rule may have gone on as the page was shown.
  if (state().nextRecord !== record) return { left: Promise.resolve(), stop: () => undefined };
  for (const entry of Object.values(found?.entries ?? {})) tell({ kind: "page-answer", entry });
  if (found?.reminded != null) tell({ kind: "remind", at: found.reminded });
  const shownAt = phase().shown ?? now();
  const keep = () => {
    const { entries, reminded } = phase();
    draft.keep({ record, shown: shownAt, reminded, entries } satisfies Draft);
  };
  keep();
  return showForm(into, {
    page,
    form: plannedPage(machine.course, phase()).form,
    stands: () => formIn(machine.course, state(), phase()),
    answer: (entry) => {
      tell({ kind: "page-answer", entry });
      keep();
    },
    remind: () => {
      tell({ kind: "remind", at: now() });
      keep();
    },
    goOn: () => {
      const asked = tell({ kind: "continue", at: now() }).find((command) => command.kind === "ask-again");
      return asked?.kind === "ask-again" ? asked.problems : null;
    },
    back: pageBefore(machine.course, state(), phase()) === null ? null : () => void tell({ kind: "back", at: now() }),
    timeUp: () => void tell({ kind: "time-up", at: now() }),
    now,
    shownAt,
    mediaUrl,
    takesFocus,
    share,
  });
}
