import { applyPatches, produce, type Patch } from "immer";
import { isDeeperThan } from "../../shape/depth";
import type { StudyDocument } from "../document";

/** So deep a study never is. */
const mostSteps = 30;
const longestKey = 200;
/** Of values: what a person sets is flat; a condition may hold others. */
const mostDepth = 100;
const mostPatches = 200_000;
const forbidden = new Set(["__proto__", "prototype", "constructor"]);

/**
 * Carries out patches that came from outside, or says in words what is wrong with one: each is looked at against what it
 * is applied to before anything of it is built. Lists grow one by one, nothing but a study's own fields is reached.
 */
export function safelyPatched(
  document: StudyDocument,
  patches: readonly Patch[],
): { ok: true; result: unknown } | { ok: false; problem: string } {
  if (patches.length > mostPatches) return { ok: false, problem: "The change is too large to be taken at once." };
  let problem: string | null = null;
  const result = produce(document, (draft) => {
    for (const patch of patches) {
      problem = patchProblem(draft, patch);
      if (problem !== null) return;
      applyPatches(draft, [patch]);
    }
  });
  return problem === null ? { ok: true, result } : { ok: false, problem };
}

function patchProblem(root: unknown, { path, value }: Patch): string | null {
  if (path.length === 0 || path.length > mostSteps) return "The change does not say what it is about.";
  if (isDeeperThan(value, mostDepth)) return "The change is nested deeper than any study is.";
  let at: unknown = root;
  for (const [step, key] of path.entries()) {
    const isLast = step === path.length - 1;
    if (Array.isArray(at)) {
      if (isLast && key === "length")
        return Number.isInteger(value) && value >= 0 && value <= at.length
          ? null
          : "The change makes a list longer than it is.";
      if (typeof key !== "number" || !Number.isInteger(key) || key < 0 || key > at.length - (isLast ? 0 : 1))
        return "The change is about an entry of a list that is not there.";
      at = at[key] as unknown;
      continue;
    }
    if (typeof at !== "object" || at === null) return "The change is about something that is not there.";
    if (typeof key !== "string" || key.length > longestKey || forbidden.has(key))
      return "The change names a field that no study has.";
    if (!isLast && !Object.hasOwn(at, key)) return "The change is about something that is not there.";
    at = (at as Record<string, unknown>)[key];
  }
  return null;
}
