import "@fontsource-variable/atkinson-hyperlegible-next/index.css";
import "@fontsource-variable/jetbrains-mono/index.css";
import "@fontsource-variable/newsreader/index.css";
import "./player.css";
import type { SessionData } from "~/core/run/session-data";
import { openOutbox, type Outbox, type Remembered } from "./outbox";
import { say, showEnding } from "./pages/page";
import { newSecret, Refused, resume, start } from "./server";
import { playSession } from "./session";
import { wording } from "./wording";

const into = document.getElementById("page") as HTMLElement;
const stageHost = document.getElementById("stage") as HTMLElement;
const { join, title } = document.body.dataset;
/** Under which name this computer remembers the session: the link's token, or the rehearsal's secret from the address. */
const rehearsal = location.hash.slice(1);
const parameters = Object.fromEntries([...new URLSearchParams(location.search)].slice(0, 20));
/** Several participants can come by one link on one computer, each by a name of their own. */
const own = parameters.participant ? `:${parameters.participant}` : "";
const entry = join ? `join:${join}${own}` : `rehearsal:${rehearsal}`;

type Ready = { data: SessionData; remembered: Remembered };

async function main() {
  const outbox = await openOutbox().catch(() => null);
  if (!outbox) return void say(into, [wording.noStorage]);
  const finishedHere = sessionStorage.getItem(`finished:${entry}`);
  if (finishedHere !== null) return showEnding(into, wording.done, wording.code, finishedHere || null);
  await alone(`lapwing:${entry}`, async (isAlone) => {
    if (!isAlone) return void say(into, [wording.otherTab]);
    const ready = await enter(outbox);
    if (!ready) return;
    if (ready.data.pilot) markAsPilot();
    const code = await playSession(
      ready.data,
      ready.remembered.secret,
      ready.remembered.startedAt,
      outbox,
      into,
      stageHost,
    );
    sessionStorage.setItem(`finished:${entry}`, code ?? "");
    await outbox.forget(entry);
  });
}

/** From the address to a session: a rehearsal at once, a link after a press on start or go on. */
async function enter(outbox: Outbox): Promise<Ready | null> {
  const known = await outbox.remembered(entry);
  if (!join) {
    if (!rehearsal) return say(into, [wording.notOpen]).then(() => null);
    const remembered = known ?? { entry, secret: rehearsal, session: "", startedAt: Date.now() };
    return again(() => open(outbox, remembered, resume));
  }
  if (known?.session) {
    await say(into, [wording.stoppedBefore], wording.goOn, title);
    const ready = await again(() => open(outbox, known, resume));
    if (ready) return ready;
    await outbox.forget(entry);
  }
  await say(into, [], wording.start, title);
  const secret = known && !known.session ? known.secret : newSecret();
  const remembered = { entry, secret, session: "", startedAt: Date.now() };
  await outbox.remember(remembered);
  const ready = await again(() => open(outbox, remembered, (secret) => start(join, secret, parameters)));
  if (ready?.data.document.settings.fullScreen)
    await document.documentElement.requestFullscreen().catch(() => undefined);
  return ready;
}

async function open(
  outbox: Outbox,
  remembered: Remembered,
  ask: (secret: string) => Promise<SessionData>,
): Promise<Ready> {
  const data = await ask(remembered.secret);
  const whole = { ...remembered, session: data.session };
  await outbox.remember(whole);
  return { data, remembered: whole };
}

/** Does what needs the server, and again when asked; null when the server refuses for good. */
async function again(attempt: () => Promise<Ready>): Promise<Ready | null> {
  for (;;) {
    try {
      return await attempt();
    } catch (error) {
      if (error instanceof Refused) {
        await say(into, [error.message]);
        return null;
      }
      await say(into, [wording.startingFailed], wording.tryAgain);
    }
  }
}

/** Runs the work where no other window of this browser does; where locks are not to be had (plain HTTP), as if alone. */
async function alone(name: string, work: (isAlone: boolean) => Promise<void>): Promise<void> {
  const locks = (navigator as { locks?: LockManager }).locks;
  if (!locks) return work(true);
  await locks.request(name, { ifAvailable: true }, (lock) => work(lock !== null));
}

function markAsPilot() {
  const mark = document.createElement("div");
  mark.className = "pilot";
  mark.textContent = "pilot";
  mark.title = wording.pilot;
  document.body.append(mark);
}

main().catch(async (error: unknown) => {
  // A mistake of ours: what is recorded stays on this computer, and loading the page again goes on from there.
  console.error(error);
  stageHost.hidden = true;
  await say(into, [wording.stopped], wording.tryAgain);
  location.reload();
});
