import type { QuestionKind } from "~/core/questions/registry";
import type { Asking, DrawnQuestion, QuestionDrawer } from "./drawer";

const files = import.meta.glob<{ draw: unknown }>("./kinds/*.ts");
const loaded = new Map<QuestionKind, QuestionDrawer<QuestionKind>>();

/** Loads what draws these kinds of questions; others are never fetched. Rejects when one cannot be had. */
export async function loadDrawers(kinds: Iterable<QuestionKind>): Promise<void> {
  await Promise.all(
    [...new Set(kinds)].map(async (kind) => {
      if (loaded.has(kind)) return;
      const file = files[`./kinds/${kind}.ts`];
      if (!file) throw new Error(`There is no file that draws “${kind}”`);
      loaded.set(kind, (await file()).draw as QuestionDrawer<QuestionKind>);
    }),
  );
}

/** Draws a question of a kind that was loaded before. */
export function drawQuestion(asking: Asking<QuestionKind>): DrawnQuestion {
  const draw = loaded.get(asking.question.kind);
  if (!draw) throw new Error(`“${asking.question.kind}” was not loaded`);
  return draw(asking);
}
