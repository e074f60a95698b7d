import { facts, words } from "../facts";
import type { ShownEnd } from "~/core/collect/ends";
import { allRules } from "~/core/design/all-rules";
import type { StudyDocument } from "~/core/design/document";
import { bracketsIn } from "~/core/order/parts";
import type { Id } from "~/core/values/ref";
import type { EndRecord } from "~/core/records/record";
import type { Context } from "~/core/values/context";
import { plainText, fixedIn, type FormattedText } from "~/core/values/formatted-text";
import { valueAsText } from "~/core/values/resolve";
import { drawFormattedText } from "../stage/formatted-text";
import { closing, make, pressed, quietButton, say, saveFile } from "./page";
import type { Sender } from "../sender";

/** How a session ended in this window: with a completion code, without one, or by leaving. */
export type Ending = {
  code: string | null;
  isWithdrawn: boolean;
  session: string;
  /** What a page said that ended it, every value in its place, and where its button leads. */
  said: Said | null;
  /** What the link says of it; null where that is nothing. */
  end: ShownEnd | null;
};
type Said = { text: FormattedText; address: string | null };

/** What is read where a page has ended the session. */
export function saidAtEnd(
  study: StudyDocument,
  { part, ending }: NonNullable<EndRecord["ended"]>,
  context: Context,
): Said | null {
  const found = endingCalled(study, part, ending);
  return found
    ? {
        // Nobody is left in front of an empty page.
        text:
          found.text.length > 0 ? fixedIn(found.text, (ref) => valueAsText(ref, context)) : plainText(words("done")),
        address: found.address ?? null,
      }
    : null;
}

/** The ending of a page, rule or criterion; undefined where there is none with words of its own. */
function endingCalled(
  study: StudyDocument,
  part: Id,
  ending: Id,
): { text: FormattedText; address?: string | undefined } | undefined {
  const here = study.parts[part];
  if (here?.kind === "page") {
    const found = here.endings.find(({ id }) => id === ending);
    if (found) return found;
  }
  const rule = allRules(study).find(({ id }) => id === ending);
  const does = rule?.do.find((action) => action.do === "end-session");
  if (does?.do === "end-session") return does;
  const bracket = bracketsIn(study.runningOrder).find(({ id }) => id === ending);
  const until = bracket?.until ?? (here?.kind === "block" ? here.criterion : undefined);
  return until && { text: until.text ?? [] };
}

/** After this long without the server, in ms, the answers are offered as a file. */
const untilFile = 12_000;

type About = {
  into: HTMLElement;
  /** How many records the session has. */
  all: number;
  session: string;
  title: string;
  code: string | null;
  isWithdrawn: boolean;
  said: Said | null;
  end: ShownEnd | null;
};

type Sending = {
  page: HTMLElement;
  /** How many are acknowledged. */
  sent: (count: number) => void;
  /** A sentence under the bar; null for none. */
  note: (sentence: string | null) => void;
};

/** The page that says how much has been sent of all there is. */
export function showSending(into: HTMLElement, all: number, sentBefore: number): Sending {
  const page = say(into, [words("sending", { sent: sentBefore, all })]);
  const line = page.querySelector("p") as HTMLElement;
  const note = document.createElement("p");
  const progress = document.createElement("progress");
  Object.assign(progress, { max: all, value: sentBefore });
  progress.setAttribute("aria-label", line.textContent);
  line.after(progress);
  return {
    page,
    sent: (count) => {
      line.textContent = words("sending", { sent: count, all });
      progress.value = count;
    },
    note: (sentence) => {
      note.textContent = sentence;
      if (sentence === null) note.remove();
      else if (!note.isConnected) page.append(note);
    },
  };
}

/** Waits, with a page that says so, until the server has acknowledged everything; then the ending. */
export async function sendRest(sender: Sender, about: About): Promise<Ending> {
  const { into, all, isWithdrawn, said } = about;
  const { page, sent, note } = showSending(into, all, sender.acknowledged);
  let offer: ReturnType<typeof setTimeout> | null = null;
  sender.onProgress = (acknowledged, trouble) => {
    sent(acknowledged);
    if (trouble === null) {
      note(null);
      page.querySelector(".buttons")?.remove();
      if (offer) clearTimeout(offer);
      offer = null;
    } else if (offer === null) {
      note(words("serverAway"));
      offer = setTimeout(() => void offerFile(), untilFile);
    }
  };
  const offerFile = async () => {
    for (;;) {
      await pressed(page, [words("saveFile")]);
      page.querySelector(".buttons")?.remove();
      await saveAsFile(sender, about);
      note(`${words("fileSaved")} ${facts().contact}`);
    }
  };
  const last = await sender.drained();
  if (offer) clearTimeout(offer);
  const ending = {
    ...{ code: isWithdrawn ? null : (last?.code ?? about.code), isWithdrawn, session: about.session, said },
    end: last?.end ?? about.end,
  };
  showLast(into, ending);
  return ending;
}

/** The last page of a session that has ended here: as the link says, else the page that ended it, else as usual. */
export function showLast(into: HTMLElement, { code, isWithdrawn, session, said, end }: Ending): void {
  if (isWithdrawn) {
    // What was kept can still be asked to be removed: the session's own name finds it.
    const isKept = facts().withdrawn === "keep";
    const page = say(into, [words(isKept ? "leftKept" : "leftRemoved")], words("left"));
    page.classList.add("ending");
    return closing(page, words("removalCode"), isKept ? session : null, null);
  }
  const page = say(into, [], !end?.says && !said ? words("done") : "");
  page.classList.add("ending");
  const text = end?.says ? plainText(end.says) : said?.text;
  if (text) {
    const body = make("div", "body");
    drawFormattedText(body, text, null);
    page.append(body);
  }
  closing(page, words("code"), end ? end.code : said ? null : code, end?.address ?? said?.address ?? null);
}

/** Under the last page, a way for the next person to begin. */
export function offerAnother(into: HTMLElement): HTMLElement {
  const row = quietButton(words("anotherPerson"));
  into.firstElementChild?.append(row);
  return row;
}

/** What has not been acknowledged, as a file that can be taken in by `./lapwing take-in`. */
async function saveAsFile(sender: Sender, { session, title }: About): Promise<void> {
  const kept = await sender.unacknowledged();
  const file = new Blob([JSON.stringify({ format: "lapwing-answers", version: 1, title, session, ...kept })], {
    type: "application/json",
  });
  saveFile(`answers-${session}.lapwing-answers.json`, file);
}
