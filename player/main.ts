import "@fontsource-variable/atkinson-hyperlegible-next/index.css";
import "./player.css";
import type { SessionData } from "~/core/run/session-data";
import { openOutbox, type Outbox, type Remembered } from "./outbox";
import { say, showEnding } from "./pages/page";
import { Refused, resume, start } from "./server";
import { playSession } from "./session";
import { wording } from "./wording";

const into = document.getElementById("page") as HTMLElement;
const stageHost = document.getElementById("stage") as HTMLElement;
const { join, title } = document.body.dataset;
/** Under which name this computer remembers the session: the link's token, or the rehearsal's secret from the address. */
const rehearsal = location.hash.slice(1);
const entry = join ? `join:${join}` : `rehearsal:${rehearsal}`;

type Ready = { data: SessionData; remembered: Remembered };

async function main() {
  const outbox = await openOutbox().catch(() => null);
  if (!outbox) return void say(into, [wording.noStorage]);
  const finishedHere = sessionStorage.getItem(`finished:${entry}`);
  if (finishedHere !== null) return showEnding(into, wording.done, wording.code, finishedHere || null);
  await navigator.locks.request(`lapwing:${entry}`, { ifAvailable: true }, async (lock) => {
    if (!lock) return void say(into, [wording.otherTab]);
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
    return again(async () => open(outbox, remembered));
  }
  if (known) {
    await say(into, [wording.stoppedBefore], wording.goOn, title);
    const ready = await again(async () => open(outbox, known));
    if (ready) return ready;
    await outbox.forget(entry);
  }
  await say(into, [], wording.start, title);
  return again(async () => {
    const { secret, session: data } = await start(join);
    const remembered = { entry, secret, session: data.session, startedAt: Date.now() };
    await outbox.remember(remembered);
    if (data.document.settings.fullScreen) await document.documentElement.requestFullscreen().catch(() => undefined);
    return { data, remembered };
  });
}

async function open(outbox: Outbox, remembered: Remembered): Promise<Ready> {
  const data = await resume(remembered.secret);
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

function markAsPilot() {
  const mark = document.createElement("div");
  mark.className = "pilot";
  mark.textContent = "pilot";
  mark.title = wording.pilot;
  document.body.append(mark);
}

void main();
