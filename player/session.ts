import type { Place } from "~/core/order/place";
import { compileWith } from "~/core/compile/plan";
import type { Block } from "~/core/design/block";
import type { StudyDocument } from "~/core/design/document";
import type { Page } from "~/core/design/page";
import type { Id } from "~/core/values/ref";
import type { Display } from "~/core/records/log";
import { machineOf } from "~/core/run/machine";
import { asPlanned, noPools, quiet } from "~/core/run/quiet";
import type { Command, SessionEvent, Step, Trials } from "~/core/run/state";
import { rebuild } from "~/core/run/replay";
import type { SessionRecord } from "~/core/records/record";
import { presentRecord } from "~/core/records/stored";
import type { SessionData } from "~/core/run/session-data";
import { sessionClock } from "./clock";
import { DraftKeeper } from "./draft";
import { RefreshWatch } from "./display";
import { facts, words } from "./facts";
import { fillScreen, Interruptions } from "./interruptions";
import { loadAll, pageAt } from "./loading";
import type { Outbox, Remembered } from "./outbox";
import { playPage } from "./page-play";
import type { Share } from "./pages/page";
import { Sender } from "./sender";
import { showBreak } from "./pages/break";
import { saidAtEnd, sendRest, type Ending } from "./pages/sending";
import { SessionLog } from "./session-log";
import { soundLatency } from "./stage/audio";
import { makeStage } from "./stage/stage";
import { setSpeed, speed } from "./pace";
import { loadedOf, wherePresent } from "./used-by-study";

const startedOutside = async (study: StudyDocument, session: string, secret: string) =>
  wherePresent("startOutside")?.(study, document, await pageAt(session, secret, "services"));

/** The surfaces a session is played on: the page, the stage, and what covers both during a pause. */
export type Surfaces = { into: HTMLElement; stage: HTMLElement; over: HTMLElement };

/**
 * Plays a session from where its records end until all is acknowledged. `onLost` is called when another window or
 * computer has taken it over; nothing more is recorded then.
 */
export async function playSession(
  data: SessionData,
  remembered: Remembered,
  outbox: Outbox,
  surfaces: Surfaces,
  onLost: (to: "window" | "computer") => void,
): Promise<Ending> {
  const { document: study } = data;
  const { into } = surfaces;
  const sender = new Sender(outbox, remembered);
  sender.onLost = onLost;
  addEventListener("online", () => sender.nudge());
  const mediaUrl = await loadAll(study, remembered.secret, data.session, into, data.begins.rehearsal !== undefined);
  const pieces = {
    rules: wherePresent("reactions") ?? quiet,
    trials: wherePresent("trials") ?? noTrials,
    following: wherePresent("following") ?? asPlanned,
    pools: wherePresent("drawPools") ?? noPools,
  };
  const machineFor = ({ participant, group, orders }: Place) =>
    machineOf(
      study,
      compileWith(pieces.pools, study, participant, data.seed, group, orders, data.entered),
      pieces,
      data.begins,
    );
  let machine = machineFor(data);
  const known = await knownRecords(data, outbox);
  const rebuilt = rebuild(machine, known);

  const { rehearsal } = data.begins;
  setSpeed(rehearsal?.speed ?? 1);
  const clock = sessionClock(remembered.startedAt, latestTime(known), speed());
  const log = new SessionLog(clock);
  log.add("opened", known.length > 0 ? `again, after record ${known.length}` : "first");
  if (speed() !== 1) log.add("opened", `${speed()} times as fast`);
  if (clock.correctedBy > 0) log.add("clock-back", Math.round(clock.correctedBy));
  let end = known.find((record) => record.kind === "end");
  const keep = (records: SessionRecord[]) => {
    end ??= records.find((record) => record.kind === "end");
    const chunk = log.take();
    return sender.keep({ records, log: chunk ? [chunk] : [] });
  };
  await keep(rebuilt.unsaved);

  const interruptions = new Interruptions(log, surfaces.over, () => [into, surfaces.stage]);
  const stage = { host: surfaces.stage, root: makeStage(surfaces.stage, study.settings.stageColor) };
  const refresh = new RefreshWatch();
  await refresh.measure();
  log.add("display", JSON.stringify(displayNow(refresh)));

  let loggedLatency: number | null = null;
  let step: Step = rebuilt;
  /** Records that were made and are not kept yet. */
  let fresh: SessionRecord[] = [];
  const asked = (await startedOutside(study, data.session, remembered.secret)) ?? null;
  const outside = wherePresent("withHand")?.(asked, data.session) ?? asked;
  outside?.look(step.state);
  const beside = await wherePresent("startBeside")?.(data.session, remembered.secret, log, clock, !!rehearsal);
  if (known.length === 0) beside?.begins?.(machine, step.state);
  const tell = (event: SessionEvent) => {
    const before = step.state;
    step = machine.next(before, event);
    outside?.look(step.state);
    beside?.look?.(machine, before, event, step);
    for (const command of step.commands) if (command.kind === "record") fresh.push(command.record);
    return step;
  };
  const made = () => {
    const records = fresh;
    fresh = [];
    return records;
  };
  /** How much of the study is done: by its trials, or where it has none by its parts; null where it is not to be shown. */
  const shareDone = (isWanted = false): Share | null => {
    const { phase } = step.state;
    if ((!isWanted && !study.settings.progressBar) || phase.kind === "done") return null;
    const { trialCount, partCount } = machine.course.plan;
    const done = Math.min(
      1,
      trialCount > 0 ? step.state.tally.trialsDone / trialCount : phase.part / Math.max(1, partCount),
    );
    return { done, says: words("shareDone", { share: Math.round(done * 100) }) };
  };
  const leave = () => {
    tell({ kind: "withdraw", at: clock.now() });
    return made();
  };

  const ofRules = wherePresent("watchPage");
  const draft = new DraftKeeper(data.session);
  const pageCourse = () => ({
    machine,
    state: () => step.state,
    tell: (event: SessionEvent) => tell(event).commands,
    now: () => clock.now(),
    draft,
    mediaUrl,
    takesFocus: () => true,
  });

  /** Waits until what is on is over, or the participant leaves for good. */
  const untilOver = async (over: Promise<unknown>): Promise<"over" | "leave"> => {
    const done = over.then(() => "over" as const);
    for (;;) {
      const what = await Promise.race([done, interruptions.asked().then(() => "asked" as const)]);
      if (what === "over") return "over";
      if ((await interruptions.settle(false)) === "leave") return "leave";
    }
  };
  const comeToPage = () => {
    surfaces.stage.hidden = true;
    interruptions.enter("page");
    interruptions.escapeAnswers = false;
  };

  /** A page: it is read and answered until the participant continues, or leaves. */
  const onPage = async (part: Id) => {
    const page = study.parts[part] as Page;
    comeToPage();
    const share = page.progress === "hidden" ? null : shareDone(page.progress === "shown");
    const record = step.state.nextRecord;
    const played = playPage(into, page, pageCourse(), share);
    const rules = ofRules?.([...study.rules, ...page.rules], {
      tell: (happened, stamp) => tell({ kind: "act", at: clock.at(stamp), happened }),
      due: () => machine.due(step.state),
      now: () => clock.now(),
      isOver: () => step.state.nextRecord !== record,
      outside,
    });
    const how = await untilOver(rules ? Promise.race([played.left, rules.left]) : played.left);
    played.stop();
    rules?.stop();
    // A page whose time was up while the participant made up their mind to leave has its record all the same.
    const records = made();
    if (how === "leave") records.push(...leave());
    // The press that went on may fill the screen again.
    await fillScreen();
    return records;
  };

  /** A break within a block: what is read until the participant continues, or leaves. */
  const onBreak = async (part: Id) => {
    const { breaks } = study.parts[part] as Block;
    comeToPage();
    tell({ kind: "page-shown", at: clock.now() });
    const read = showBreak(into, breaks ?? noBreak, machine.context(step.state), shareDone(), () => clock.now());
    if ((await untilOver(read)) === "leave") return leave();
    await fillScreen();
    tell({ kind: "continue", at: clock.now() });
    return made();
  };

  /** Where places are given: all so far is brought to the server, which gives the session its own; or they leave. */
  const atLine = async () => {
    comeToPage();
    const asking = loadedOf("askForPlace")(into, remembered.secret, sender);
    const how = await untilOver(asking.given);
    asking.stop();
    if (how === "leave") return leave();
    machine = machineFor(await asking.given);
    log.add("placed");
    tell({ kind: "placed" });
    return made();
  };

  const onTrial = async ({ part, trial }: Extract<Task, { kind: "prepare-trial" }>) => {
    const block = study.parts[part] as Block;
    if ((await beside?.before?.(step.state.tally.trialsDone, comeToPage, untilOver)) === "leave") return leave();
    if (rehearsal?.stepwise) {
      comeToPage();
      const next = loadedOf("waitForNext")(into, trial, machine.context(step.state));
      if ((await untilOver(next)) === "leave") return leave();
    }
    if (surfaces.stage.hidden) {
      into.replaceChildren();
      surfaces.stage.hidden = false;
      interruptions.enter("block");
    }
    interruptions.escapeAnswers = block.answers.some(({ by }) =>
      by.some((device) => device.device === "keys" && device.keys.includes("Escape")),
    );
    log.trial = trial.trial;
    const ended = await loadedOf("playTrial")(step.state, part, trial, {
      machine,
      stage,
      clock,
      mediaUrl,
      refresh,
      interruption: () => interruptions.why,
      isBrokenOff: study.settings.participation.interrupted === "redo",
      onInput: (what, value, stamp) => log.add(what, value, stamp),
      listenForActs: wherePresent("listenForActs"),
      outside,
      beside,
    });
    log.trial = null;
    step = ended.step;
    const changed = refresh.changed();
    const latency = soundLatency();
    const isOtherSound = latency !== null && Math.abs(latency - (loggedLatency ?? -10)) > 2;
    if (changed !== null) log.add("refresh", `${changed.toFixed(3)}${refresh.variable ? " variable" : ""}`);
    if (isOtherSound) log.add("sound", `latency ${latency.toFixed(1)} ms`);
    if (isOtherSound) loggedLatency = latency;
    if (changed !== null || isOtherSound) log.add("display", JSON.stringify(displayNow(refresh)));
    return ended.records;
  };

  for (;;) {
    const todo = step.commands.find(isTask);
    if (!todo || todo.kind === "finish") break;
    const records =
      todo.kind === "prepare-trial"
        ? await onTrial(todo)
        : todo.kind === "show-page"
          ? await onPage(todo.part)
          : todo.kind === "ask-place"
            ? await atLine()
            : await onBreak(todo.part);
    await keep(records);
    // What was typed is on disk as a record now.
    if (todo.kind === "show-page") draft.forget();
    const isGoingOn = step.commands.some(({ kind }) => kind === "prepare-trial");
    if (todo.kind === "prepare-trial" && interruptions.why !== null) {
      const isAgain = records.at(-1)?.kind === "broken-off";
      if (isGoingOn || isAgain) {
        if ((await interruptions.settle(isAgain)) === "leave") await keep(leave());
        interruptions.enter("block");
      }
    }
  }
  surfaces.stage.hidden = true;
  await beside?.stop().then(() => keep([]));
  if (document.fullscreenElement) void document.exitFullscreen().catch(() => undefined);
  return sendRest(sender, {
    into,
    all: step.state.nextRecord - 1,
    session: data.session,
    title: facts().title,
    code: data.code,
    end: data.end ?? null,
    isWithdrawn: end?.kind === "end" && end.withdrawn === true,
    said: end?.kind === "end" && end.ended ? saidAtEnd(study, end.ended, machine.context(step.state)) : null,
  });

  function displayNow({ frameMs, spread, variable }: RefreshWatch): Display {
    return {
      refreshMs: Math.round(frameMs * 1000) / 1000,
      refreshSd: Math.round(spread * 1000) / 1000,
      variable,
      width: innerWidth,
      height: innerHeight,
      pixelRatio: devicePixelRatio,
      isolated: globalThis.crossOriginIsolated,
      soundLatencyMs: soundLatency(),
    };
  }
}

/** A study without blocks plays none. */
const noTrials = new Proxy({} as Trials, {
  get: () => () => {
    throw new Error("Trials were not loaded");
  },
});

const noBreak = { body: [], leastSeconds: 0 };

const tasks = ["show-page", "show-break", "prepare-trial", "ask-place", "finish"] as const;
type Task = Extract<Command, { kind: (typeof tasks)[number] }>;
const isTask = (command: Command): command is Task => (tasks as readonly string[]).includes(command.kind);

/** The server's records and those still on this disk, as far as they follow each other without a gap. */
async function knownRecords(data: SessionData, outbox: Outbox): Promise<SessionRecord[]> {
  const byNumber = new Map(
    [...(await outbox.waiting(data.session)).records, ...data.records].map((record) => [
      record.number,
      presentRecord(record, data.document),
    ]),
  );
  const records: SessionRecord[] = [];
  for (let number = 1; ; number++) {
    const record = byNumber.get(number);
    if (!record) return records;
    records.push(record);
  }
}

/** The latest session time that these records tell of. */
const latestTime = (records: SessionRecord[]): number =>
  records.reduce((latest, record) => {
    const at = "done" in record ? record.done : "at" in record ? record.at : (record.scenes.at(-1)?.end ?? 0);
    return Math.max(latest, at);
  }, 0);
