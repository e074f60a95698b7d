import { facts, words } from "./facts";
import { pressed, say, showEnding } from "./pages/page";
import type { Sender } from "./sender";

/** How a session ended here: with a completion code, without one, or by leaving. */
export type Ending = { code: string | null; isWithdrawn: boolean };

/** After so long without the server the answers are offered as a file, in ms. */
const untilFile = 12_000;

type About = {
  into: HTMLElement;
  /** How many records the session has. */
  all: number;
  session: string;
  title: string;
  code: string | null;
  isWithdrawn: boolean;
};

/** Waits, with a page that says so, until the server has acknowledged everything; then the ending. */
export async function sendRest(sender: Sender, about: About): Promise<Ending> {
  const { into, all, isWithdrawn } = about;
  const page = say(into, [words("sending", { sent: sender.acknowledged, all })]);
  const line = page.querySelector("p") as HTMLElement;
  const away = document.createElement("p");
  const progress = document.createElement("progress");
  Object.assign(progress, { max: all, value: sender.acknowledged });
  progress.setAttribute("aria-label", line.textContent);
  line.after(progress);
  let offer: ReturnType<typeof setTimeout> | null = null;
  sender.onProgress = (acknowledged, trouble) => {
    line.textContent = words("sending", { sent: acknowledged, all });
    progress.value = acknowledged;
    if (trouble === null) {
      away.remove();
      page.querySelector(".buttons")?.remove();
      if (offer) clearTimeout(offer);
      offer = null;
    } else if (offer === null) {
      away.textContent = words("serverAway");
      page.append(away);
      offer = setTimeout(() => void offerFile(), untilFile);
    }
  };
  const offerFile = async () => {
    for (;;) {
      await pressed(page, [words("saveFile")]);
      page.querySelector(".buttons")?.remove();
      await saveAsFile(sender, about);
      away.textContent = `${words("fileSaved")} ${facts().contact}`;
    }
  };
  const last = await sender.drained();
  if (offer) clearTimeout(offer);
  const ending = { code: isWithdrawn ? null : (last?.code ?? about.code), isWithdrawn };
  showLast(into, ending);
  return ending;
}

/** The last page of a session that has ended here. */
export function showLast(into: HTMLElement, { code, isWithdrawn }: Ending): void {
  const left = [words("left"), words(facts().withdrawn === "remove" ? "leftRemoved" : "leftKept")];
  showEnding(into, isWithdrawn ? left : [words("done")], words("code"), code);
}

/** What has not been acknowledged, as a file that can be taken in by `./lapwing take-in`. */
async function saveAsFile(sender: Sender, { session, title }: About): Promise<void> {
  const kept = await sender.unacknowledged();
  const file = new Blob([JSON.stringify({ format: "lapwing-answers", version: 1, title, session, ...kept })], {
    type: "application/json",
  });
  const link = document.createElement("a");
  link.href = URL.createObjectURL(file);
  link.download = `answers-${session}.lapwing-answers.json`;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
}
