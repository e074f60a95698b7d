import type { StudyDocument } from "~/core/design/document";
import { itemsIn } from "~/core/design/lookup";
import { questionsOf } from "~/core/design/questions";
import { addListener } from "./listeners";
import { loadDrawers } from "./questions/drawers";
import { addDrawer } from "./stage/drawers";

const itemFiles = import.meta.glob<{ drawer: unknown }>(["./stage/items/*.ts", "!./stage/items/*.test.ts"]);
const deviceFiles = import.meta.glob<{ listener: unknown }>(["./devices/*.ts", "!./devices/*.test.ts"]);

/** Loads what draws and hears the kinds of items, answers and questions that a study uses; others are never fetched. */
export async function loadUsedKinds({ parts }: Pick<StudyDocument, "parts">): Promise<void> {
  const all = Object.values(parts);
  const blocks = all.filter((part) => part.kind === "block");
  const items = new Set(blocks.flatMap((block) => itemsIn(block).map(({ kind }) => kind)));
  const devices = new Set(blocks.flatMap(({ answers }) => answers.flatMap(({ by }) => by.map(({ device }) => device))));
  const questions = all.flatMap((part) => (part.kind === "page" ? questionsOf(part).map(({ kind }) => kind) : []));
  await Promise.all([
    ...[...items].map(async (kind) => addDrawer(kind, await fileOf(itemFiles, `./stage/items/${kind}.ts`))),
    ...[...devices].map(async (name) => addListener(name, await fileOf(deviceFiles, `./devices/${name}.ts`))),
    loadDrawers(questions),
  ]);
}

function fileOf<T>(files: Record<string, () => Promise<T>>, name: string): Promise<T> {
  const load = files[name];
  if (!load) throw new Error(`There is no file ${name}`);
  return load();
}
