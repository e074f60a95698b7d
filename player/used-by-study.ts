import type { StudyDocument } from "~/core/design/document";
import { itemsIn } from "~/core/design/lookup";
import { questionsOf } from "~/core/design/questions";
import { openingOf } from "~/core/order/opening";
import { addListener } from "./listeners";
import { loadDrawers } from "./questions/drawers";
import { addDrawer } from "./stage/drawers";

const itemFiles = import.meta.glob<{ drawer: unknown }>(["./stage/items/*.ts", "!./stage/items/*.test.ts"]);
const deviceFiles = import.meta.glob<{ listener: unknown }>(["./devices/*.ts", "!./devices/*.test.ts"]);

type Loaded = {
  playTrial: (typeof import("./trial-loop"))["playTrial"];
  askForPlace: (typeof import("./pages/placing"))["askForPlace"];
};
/** What only some studies need: trials, and places that are given after the first pages. */
const loaded: Partial<Loaded> = {};

/** What was loaded for the study. Throws where it does not use it. */
export function loadedOf<K extends keyof Loaded>(name: K): Loaded[K] {
  const found = loaded[name];
  if (!found) throw new Error(`${name} was not loaded`);
  return found;
}

/** Loads what draws and hears the kinds of items, answers and questions that a study uses; others are never fetched. */
export async function loadUsed(study: StudyDocument): Promise<void> {
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
    openingOf(study).length > 0
      ? import("./pages/placing").then(({ askForPlace }) => (loaded.askForPlace = askForPlace))
      : null,
  ]);
}

function fileOf<T>(files: Record<string, () => Promise<T>>, name: string): Promise<T> {
  const load = files[name];
  if (!load) throw new Error(`There is no file ${name}`);
  return load();
}
