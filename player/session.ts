import { compile } from "~/core/compile/compile";
import type { Id, MediaFile, Page } from "~/core/design/types";
import { mediaKind } from "~/core/design/media-types";
import { sessionMachine, type Command, type SessionEvent, type Step } from "~/core/run/machine";
import { rebuild } from "~/core/run/replay";
import type { SessionRecord } from "~/core/run/records";
import { presentRecord } from "~/core/run/stored-records";
import type { SessionData } from "~/core/run/session-data";
import { measureFrame, sessionClock } from "./clock";
import type { Outbox } from "./outbox";
import { say, showEnding, showLoading, showStudyPage } from "./pages/page";
import { Sender } from "./sender";
import { media, pause } from "./server";
import { decodedSound } from "./stage/audio";
import { makeStage } from "./stage/stage";
import { playTrial } from "./trial-loop";
import { wording } from "./wording";

/**
 * Plays a session from where its records end until all is acknowledged; gives the completion code.
 * `startedAt` is the wall-clock time of its start on this computer, in ms since 1970.
 */
export async function playSession(
  data: SessionData,
  secret: string,
  startedAt: number,
  outbox: Outbox,
  into: HTMLElement,
  stageHost: HTMLElement,
): Promise<string | null> {
  const { document: study } = data;
  const sender = new Sender(outbox, secret, data.session);
  const plan = compile(study, data.participant, data.seed, data.group, data.orders);
  const machine = sessionMachine(study, plan);
  const mediaUrl = await loadMedia(study.media, secret, into);
  const rebuilt = rebuild(machine, await knownRecords(data, outbox));
  if (rebuilt.unsaved.length > 0) await sender.keep(rebuilt.unsaved);
  sender.wake();

  const clock = sessionClock(startedAt);
  const stage = { host: stageHost, root: makeStage(stageHost, study.settings.stageColor) };
  const frameMs = await measureFrame();

  let step: Step = rebuilt;
  const onPage = async (part: Id) => {
    const page = study.parts[part] as Page;
    stageHost.hidden = true;
    const tell = (event: SessionEvent) => (step = machine.next(step.state, event));
    tell({ kind: "page-shown", at: clock.now() });
    const share =
      study.settings.progressBar && plan.trialCount > 0 ? step.state.tally.trialsDone / plan.trialCount : null;
    await showStudyPage(into, page.body, page.continueLabel, machine.context(step.state), share);
    tell({ kind: "continue", at: clock.now() });
    return step.commands.flatMap((command) => (command.kind === "record" ? [command.record] : []));
  };

  for (;;) {
    const todo = step.commands.find(isTask);
    if (!todo || todo.kind === "finish") break;
    let records: SessionRecord[];
    if (todo.kind === "show-page") records = await onPage(todo.part);
    else {
      into.replaceChildren();
      stageHost.hidden = false;
      const ended = await playTrial(machine, step.state, todo.part, todo.trial, stage, clock, mediaUrl, frameMs);
      step = ended.step;
      records = ended.records;
    }
    await sender.keep(records);
  }
  stageHost.hidden = true;
  void say(into, [wording.sending]);
  sender.onProgress = (waiting) => void say(into, [waiting > 0 ? wording.waiting(waiting) : wording.sending]);
  const last = await sender.drained();
  showEnding(into, wording.done, wording.code, last?.code ?? data.code);
  return last?.code ?? data.code;
}

const isTask = (command: Command): command is Extract<Command, { kind: "show-page" | "prepare-trial" | "finish" }> =>
  command.kind === "show-page" || command.kind === "prepare-trial" || command.kind === "finish";

/** The server's records and those still on this disk, as far as they follow each other without a gap. */
async function knownRecords(data: SessionData, outbox: Outbox): Promise<SessionRecord[]> {
  const byNumber = new Map(
    [...(await outbox.waiting(data.session)), ...data.records].map((record) => [
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

/** Loads every media file of the study, and decodes pictures and sounds, before anything begins, trying again while the network is away. */
async function loadMedia(files: MediaFile[], secret: string, into: HTMLElement): Promise<(id: Id) => string | null> {
  const urls = new Map<Id, string>();
  if (files.length === 0) return (id) => urls.get(id) ?? null;
  const progress = showLoading(into, wording.loading);
  const queue = [...files];
  const load = async () => {
    for (let file = queue.shift(); file; file = queue.shift()) {
      const { id } = file;
      for (let failures = 0; ; failures++) {
        try {
          urls.set(id, await loaded(file, secret));
          break;
        } catch {
          if (failures >= 4) await say(into, [wording.startingFailed], wording.tryAgain);
          await pause(Math.min(5000, 300 * 2 ** failures));
        }
      }
      progress(urls.size / files.length);
    }
  };
  await Promise.all([load(), load(), load(), load()]);
  return (id) => urls.get(id) ?? null;
}

/** Where a media file can be shown or played from at once. A page is fetched by the frame that shows it. */
async function loaded({ sha256, mime }: MediaFile, secret: string): Promise<string> {
  const kind = mediaKind(mime);
  if (kind === "page") return `/pages/${sha256}`;
  const url = URL.createObjectURL(await media(secret, sha256));
  if (kind === "picture") {
    const picture = new Image();
    picture.src = url;
    await picture.decode();
  } else if (kind === "sound") await decodedSound(url).catch(() => undefined);
  return url;
}
