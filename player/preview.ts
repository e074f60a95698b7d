import "./styles";
import type { Entry } from "~/core/run/entry";
import { become, words } from "./facts";
import { checksInWords } from "./pages/checks";
import { showEntry } from "./pages/entry";
import { showLoading, say } from "./pages/page";
import { showLeaving, showPause } from "./pages/pause";
import type { ShownSession } from "./shown";
import { tryPage, type TriedPage } from "./try-page";
import { offerAnother, showLast, showSending } from "./pages/sending";

/** A page participants see, as shown while a study is designed. */
export type PreviewPage =
  | { kind: "entry" | "checks" | "loading" | "leaving" | "sending" | "ending" }
  | { kind: "pause"; isPlayedAgain: boolean }
  | ({ kind: "study-page" } & TriedPage)
  | ({ kind: "session" } & ShownSession);
/** What the window around the frame asks it to show. */
export type PreviewMessage = { entry: Entry; page: PreviewPage };
/** Goes to a time of the session that is shown, in ms from its start. */
export type TimeMessage = { at: number };
type Drawing<Kind extends PreviewPage["kind"]> = (
  into: HTMLElement,
  page: Extract<PreviewPage, { kind: Kind }>,
  entry: Entry,
) => unknown;

/** The time of a session that is to be shown, and what goes there once it can. */
let time = 0;
let goTo: ((at: number) => void) | null = null;

/** Each page drawn by what draws it for participants, with values made up for what only a session knows. */
const drawings: { [Kind in PreviewPage["kind"]]: Drawing<Kind> } = {
  entry: (into) => showEntry(into, false),
  checks: (into) => {
    const sentences = checksInWords();
    return say(into, sentences.length > 0 ? sentences : ["–"]);
  },
  loading: (into) => showLoading(into, words("loading"))(0.62),
  pause: (into, { isPlayedAgain }) => showPause(into, "focus", isPlayedAgain),
  leaving: (into) => showLeaving(into),
  sending: (into) => showSending(into, 412, 38).note(words("serverAway")),
  ending: (into, _, { others }) => {
    showLast(into, { code: "K7QM-3HTD", isWithdrawn: false, session: "", said: null, end: null });
    if (others) offerAnother(into);
  },
  "study-page": (into, tried) => void tryPage(into, tried),
  session: (into, session) => {
    goTo = null;
    into.replaceChildren();
    void import("./shown").then(async ({ showSession }) => {
      goTo = await showSession(into, document.getElementById("stage") as HTMLElement, session);
      goTo(time);
    });
  },
};

addEventListener("message", ({ origin, source, data }: MessageEvent<PreviewMessage | TimeMessage>) => {
  if (origin !== location.origin || source !== parent) return;
  if ("at" in data) {
    time = data.at;
    return goTo?.(time);
  }
  const { entry, page } = data;
  become(entry);
  // A page of the study can be tried; all others are for viewing only.
  document.body.inert = page.kind !== "study-page";
  const draw = drawings[page.kind] as (into: HTMLElement, page: PreviewPage, entry: Entry) => unknown;
  draw(document.getElementById("page") as HTMLElement, page, entry);
  document.body.dataset.shows = page.kind;
});
parent.postMessage("ready", location.origin);
