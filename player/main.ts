import "./styles";
import type { SessionData } from "~/core/run/session-data";
import { askGoOn, askWord, showEntry, showGoOn } from "./pages/entry";
import { forgetDraft } from "./draft";
import { isUsedUp, noteBegun } from "./begun-here";
import { asksWord, become, closed, end, facts, goOn, isPersonal, join, on, words } from "./facts";
import { fillScreen } from "./interruptions";
import { inOneWindow } from "./one-window";
import { openOutbox, type Outbox, type Remembered } from "./outbox";
import { ask, make, say, sayWhy, leading } from "./pages/page";
import { newSecret, pause, Refused, resume, start, tellDevice } from "./server";
import { Sender } from "./sender";
import { offerAnother, showLast, type Ending } from "./pages/sending";
import { playSession, type Surfaces } from "./session";

const into = document.getElementById("page") as HTMLElement;
const stage = document.getElementById("stage") as HTMLElement;
const over = make("div", "over");
over.hidden = true;
over.setAttribute("role", "dialog");
over.setAttribute("aria-modal", "true");
document.body.append(over);
const surfaces: Surfaces = { into, stage, over };

/** Under which name this computer remembers the session: the link's token, or the rehearsal's secret from the address. */
const rehearsal = location.hash.slice(1);
const parameters = Object.fromEntries([...new URLSearchParams(location.search)].slice(0, 20));
/** Several participants can come by one link on one computer, each by a name of their own. */
const own = parameters.participant ? `:${parameters.participant}` : "";
const entry = join ? `join:${join}${own}` : `rehearsal:${rehearsal}`;
const [finishedKey, elsewhereKey] = [`finished:${entry}`, `elsewhere:${entry}`];

const automaticTries = 4;

type Ready = { data: SessionData; remembered: Remembered };

async function main() {
  const finishedHere = sessionStorage.getItem(finishedKey);
  // Where the link is opened anew, the next sitting may be due.
  const [came] = performance.getEntriesByType("navigation") as PerformanceNavigationTiming[];
  if (finishedHere !== null && !(facts().comesAgain && came?.type === "navigate")) {
    showLast(into, JSON.parse(finishedHere) as Ending);
    return offerNext();
  }
  if (sessionStorage.getItem(elsewhereKey) !== null) return void say(into, [words("otherComputer")]);
  const outbox = await openOutbox().catch(() => null);
  if (!outbox) return void say(into, [words("noStorage")]);
  await inOneWindow(
    `lapwing:${entry}`,
    () => play(outbox),
    async () => void (await ask(into, [words("otherWindow")], [words("takeOver")])),
    () => location.reload(),
  );
}

async function play(outbox: Outbox): Promise<void> {
  const ready = await enter(outbox);
  if (!ready) return;
  become(ready.data.entry);
  if (ready.data.pilot) markAsPilot();
  goOn.code = ready.data.goOn;
  if (goOn.code !== null && ready.data.records.length === 0) await showGoOn(into, goOn.code);
  const ending = await playSession(ready.data, ready.remembered, outbox, surfaces, (to) => {
    if (to === "window") return location.reload();
    sessionStorage.setItem(elsewhereKey, "yes");
    void outbox.forget(entry).then(() => location.reload());
  });
  sessionStorage.setItem(finishedKey, JSON.stringify(ending));
  await outbox.forget(entry);
  offerNext();
}

/** Why nobody can begin here, where that is so. */
const whyNot = (): string | null => closed ?? (isUsedUp() && !facts().comesAgain ? words("takenPart") : null);

/** Whether someone else may start here: the study allows it, and the link is not one person's own. */
const canBeAnother = () => whyNot() === null && own === "" && !isPersonal && facts().others === true;

/** Under the last page, where the study is taken part in by one person after the other: a way to its beginning. */
function offerNext(): void {
  // Begun from a laboratory's list: the way back to it, where the assistant's key is asked for.
  const lab = /^\?lab=([a-z0-9-]{1,60})$/.exec(location.search)?.[1];
  if (lab) into.firstElementChild?.append(leading(`/studies/${lab}/laboratory`, words("forAssistant"), "second"));
  if (!canBeAnother()) return;
  offerAnother(into).addEventListener("click", () => {
    sessionStorage.removeItem(finishedKey);
    location.reload();
  });
}

/** From the address to a session: a rehearsal at once, a link after a press on start or continue. */
async function enter(outbox: Outbox): Promise<Ready | null> {
  const owner = newSecret();
  const known = await outbox.remembered(entry);
  if (!join) {
    if (!rehearsal) return say(into, [words("notOpen")]) && null;
    const remembered = known ?? { entry, secret: rehearsal, session: "", startedAt: Date.now() };
    return readyOr(await again(() => open(outbox, { ...remembered, owner }, resume)));
  }
  const isAnother = known !== null && known.session !== "" && (await isAnotherPerson());
  if (isAnother) await handIn(outbox, { ...known, owner });
  else if (known?.session) {
    await fillScreen();
    const mine = { ...known, owner };
    const answer = await again(() => open(outbox, mine, resume));
    if (!(answer instanceof Refused)) return answer;
    // What this computer still holds of a session that continues elsewhere, or no more, still belongs to it.
    if (answer.elsewhere || answer.isLate) await new Sender(outbox, mine).drained();
    const isAnew = answer.isLate && whyNot() === null;
    if (isAnew) await ask(into, [answer.message], [words("goOn")]);
    const left = await outbox.waiting(known.session);
    if (answer.elsewhere || (answer.isLate && !isAnew) || left.records.length > 0) return null;
    await outbox.forget(entry);
  }
  // By a link that was closed nothing begins; but a start whose answer got lost may have.
  const isStarting = known !== null && known.session === "";
  const why = whyNot();
  const isGoingOn = why !== null && !isStarting && facts().elsewhere;
  if (why !== null && !isStarting && !isGoingOn) {
    sayWhy(into, why, end);
    return null;
  }
  if (isGoingOn) await ask(into, [why], [words("goOnElsewhere")]);
  if (on && why === null && !isStarting && !(await (await piece(() => import("./pages/suited"))).isSuited(into, on)))
    return null;
  const { code, goOn: given } =
    why === null
      ? await showEntry(into, own !== "")
      : { code: null, goOn: isGoingOn ? await askGoOn(into, null) : null };
  let word = asksWord && why === null && given === null ? await askWord(into, null) : null;
  if (why === null || isGoingOn) await (await piece(() => import("./pages/checks"))).passChecks(into);
  // A start whose answer got lost is asked for again by the same secret.
  const secret = isStarting ? known.secret : newSecret();
  const remembered = { entry, secret, session: "", startedAt: Date.now(), owner };
  // Ask the browser not to evict our storage.
  void (navigator as { storage?: StorageManager }).storage?.persist().catch(() => false);
  const told = code === null ? parameters : { ...parameters, participant: code };
  for (let goOn = given; ;) {
    say(into, [words("loading")]);
    const answer = await again(() => open(outbox, remembered, (secret) => start(join, secret, told, goOn, word)));
    if (answer instanceof Refused && answer.isWrongWord) word = await askWord(into, answer.message);
    else if (answer instanceof Refused && answer.isUnknownCode) goOn = await askGoOn(into, words("goOnUnknown"));
    else {
      if (!(answer instanceof Refused) && goOn === null) noteBegun(answer.data.session);
      return readyOr(answer);
    }
  }
}

/** A piece of the player that not every entry needs; asked for again on request. */
async function piece<T>(load: () => Promise<T>): Promise<T> {
  for (;;) {
    const loaded = await load().catch(() => null);
    if (loaded) return loaded;
    await ask(into, [words("noConnection")], [words("tryAgain")]);
  }
}

/** Asked where a session was begun here: false when the same person continues. Only some studies let another begin. */
async function isAnotherPerson(): Promise<boolean> {
  const others = canBeAnother() ? [words("anotherPerson")] : [];
  if ((await ask(into, [words("stoppedBefore")], [words("goOnThere"), ...others], facts().title)) === 0) return false;
  return (await ask(into, [words("anotherSure")], [words("goOnThere"), words("anotherPerson")])) === 1;
}

/** Sends all that is left of a session someone else started here, then forgets it. */
async function handIn(outbox: Outbox, theirs: Remembered): Promise<void> {
  await outbox.remember(theirs);
  const sender = new Sender(outbox, theirs);
  const { records, log } = await sender.unacknowledged();
  const before = (records[0]?.number ?? 1) - 1;
  const tell = () => {
    const sent = Math.max(0, sender.acknowledged - before);
    if (records.length > 0) say(into, [words("sending", { sent, all: records.length })]);
  };
  tell();
  sender.onProgress = tell;
  if (records.length + log.length > 0) await sender.drained();
  await outbox.forget(entry);
  forgetDraft(theirs.session);
}

const readyOr = (answer: Ready | Refused): Ready | null => (answer instanceof Refused ? null : answer);

async function open(
  outbox: Outbox,
  remembered: Remembered,
  askFor: (secret: string) => Promise<SessionData>,
): Promise<Ready> {
  // The session is this window's before the server is asked how far it is: no other can add or send anything after that.
  await outbox.remember(remembered);
  const data = await askFor(remembered.secret);
  // A session that was begun at another computer keeps its own beginning.
  const isMoved = remembered.session === "" && data.records.length > 0;
  const startedAt = isMoved ? Date.parse(data.startedAt) : remembered.startedAt;
  const whole = { ...remembered, session: data.session, startedAt };
  await outbox.remember(whole);
  return { data: await withDevice(data, whole.secret), remembered: whole };
}

/** A study may look at the device on which a session begins. */
async function withDevice(data: SessionData, secret: string): Promise<SessionData> {
  if (!data.entry.looksAtDevice || data.begins.device || data.records.length > 0) return data;
  const { deviceNow } = await import("./device");
  return { ...data, begins: { ...data.begins, device: await tellDevice(secret, await deviceNow()) } };
}

/** Does what needs the server, and retries on request; a final refusal is shown and returned. */
async function again(attempt: () => Promise<Ready>): Promise<Ready | Refused> {
  for (let failures = 1; ; failures++) {
    try {
      return await attempt();
    } catch (error) {
      if (error instanceof Refused) {
        if (!error.isUnknownCode && !error.isWrongWord)
          sayWhy(into, error.elsewhere ? words("otherComputer") : error.message, error.end);
        return error;
      }
      // When a whole class starts at once it may have to wait a moment; only then is that shown.
      if (failures % automaticTries !== 0)
        await pause(700 * 2 ** (failures % automaticTries) * (0.75 + Math.random() / 2));
      else await ask(into, [words("noConnection")], [words("tryAgain")]);
    }
  }
}

function markAsPilot() {
  const mark = make("div", "pilot", "pilot");
  mark.title = words("pilot");
  document.body.append(mark);
}

main().catch(async (error: unknown) => {
  // A bug: what is recorded stays on this computer, and reloading continues from there.
  console.error(error);
  stage.hidden = true;
  over.hidden = true;
  await ask(into, [words("stopped")], [words("tryAgain")]);
  location.reload();
});
