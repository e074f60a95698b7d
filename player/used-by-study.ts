import type { StudyDocument } from "~/core/design/document";
import { allRules, anyDoes } from "~/core/design/all-rules";
import { sendsMarkers } from "~/core/design/all-markers";
import { followsAnswers, itemsIn } from "~/core/design/lookup";
import { questionsOf } from "~/core/design/questions";
import { bracketsIn } from "~/core/order/parts";
import { openingOf } from "~/core/order/opening";
import { addListener } from "./listeners";
import { loadDrawers } from "./questions/drawers";
import { addDrawer } from "./stage/drawers";

const itemFiles = import.meta.glob<{ drawer: unknown }>(["./stage/items/*.ts", "!./stage/items/*.test.ts"]);
const deviceFiles = import.meta.glob<{ listener: unknown }>(["./devices/*.ts", "!./devices/*.test.ts"]);

type Loaded = {
  playTrial: (typeof import("./trial-loop"))["playTrial"];
  listenForActs: (typeof import("./acts"))["listenForActs"];
  reactions: (typeof import("~/core/run/reactions"))["reactions"];
  following: (typeof import("~/core/run/following"))["following"];
  trials: (typeof import("~/core/run/trials"))["trials"];
  drawPools: (typeof import("~/core/compile/compile"))["drawPools"];
  startOutside: (typeof import("./outside"))["startOutside"];
  watchPage: (typeof import("./acts"))["watchPage"];
  askForPlace: (typeof import("./pages/placing"))["askForPlace"];
  withHand: (typeof import("./by-hand"))["withHand"];
  waitForNext: (typeof import("./pages/next-trial"))["waitForNext"];
  startBeside: import("./beside").StartBeside;
};
/** What only some studies need, and rehearsals. */
const loaded: Partial<Loaded> = {};

/** What was loaded for the study. Throws where it does not use it. */
export function loadedOf<K extends keyof Loaded>(name: K): Loaded[K] {
  const found = loaded[name];
  if (!found) throw new Error(`${name} was not loaded`);
  return found;
}

/** The same where it may not be needed. */
export const wherePresent = <K extends keyof Loaded>(name: K): Loaded[K] | undefined => loaded[name];

/** Loads what draws and hears the kinds of items, answers and questions that a study uses; others are never fetched. */
export async function loadUsed(study: StudyDocument, isRehearsal = false): Promise<void> {
  const { parts } = study;
  const all = Object.values(parts);
  const blocks = all.filter((part) => part.kind === "block");
  const items = new Set(blocks.flatMap((block) => itemsIn(block).map(({ kind }) => kind)));
  const devices = new Set(blocks.flatMap(({ answers }) => answers.flatMap(({ by }) => by.map(({ device }) => device))));
  const questions = all.flatMap((part) => (part.kind === "page" ? questionsOf(part).map(({ kind }) => kind) : []));
  await Promise.all([
    ...[...items].map(async (kind) => addDrawer(kind, await fileOf(itemFiles, `./stage/items/${kind}.ts`))),
    ...[...devices].map(async (name) => addListener(name, await fileOf(deviceFiles, `./devices/${name}.ts`))),
    loadDrawers(questions),
    blocks.length > 0 ? import("./trial-loop").then(({ playTrial }) => (loaded.playTrial = playTrial)) : null,
    blocks.length > 0 ? import("~/core/run/trials").then(({ trials }) => (loaded.trials = trials)) : null,
    blocks.some(followsAnswers)
      ? import("~/core/run/following").then(({ following }) => (loaded.following = following))
      : null,
    study.pools.length > 0
      ? import("~/core/compile/compile").then(({ drawPools }) => (loaded.drawPools = drawPools))
      : null,
    // What is set by hand is taken by them too.
    hasRules(study) || repeats(study) || isRehearsal
      ? import("~/core/run/reactions").then(({ reactions }) => (loaded.reactions = reactions))
      : null,
    hasRules(study) || isRehearsal
      ? import("./acts").then(({ listenForActs, watchPage }) => Object.assign(loaded, { listenForActs, watchPage }))
      : null,
    asksOutside(study) ? import("./outside").then(({ startOutside }) => (loaded.startOutside = startOutside)) : null,
    study.settings.gaze || sendsMarkers(study)
      ? import("./beside").then(async ({ besideOf }) => (loaded.startBeside = await besideOf(study)))
      : null,
    isRehearsal ? import("./by-hand").then(({ withHand }) => (loaded.withHand = withHand)) : null,
    isRehearsal ? import("./pages/next-trial").then(({ waitForNext }) => (loaded.waitForNext = waitForNext)) : null,
    openingOf(study).length > 0
      ? import("./pages/placing").then(({ askForPlace }) => (loaded.askForPlace = askForPlace))
      : null,
  ]);
}

const hasRules = ({ rules, parts }: StudyDocument): boolean =>
  rules.length > 0 ||
  Object.values(parts).some(
    (part) =>
      part.rules.length > 0 || (part.kind === "block" && part.scenes.some((scene) => (scene.rules ?? []).length > 0)),
  );

const asksOutside = (study: StudyDocument): boolean => anyDoes(allRules(study), "script", "ask");

/** Whether anything is repeated until good enough. */
const repeats = ({ parts, runningOrder }: StudyDocument): boolean =>
  Object.values(parts).some((part) => part.kind === "block" && part.criterion !== undefined) ||
  bracketsIn(runningOrder).some(({ until }) => until !== undefined);

function fileOf<T>(files: Record<string, () => Promise<T>>, name: string): Promise<T> {
  const load = files[name];
  if (!load) throw new Error(`There is no file ${name}`);
  return load();
}
