import type { StudyDocument } from "../design/document";
import type { Rule } from "../rules/rule";
import type { TriggerKind } from "../rules/trigger";
import type { Where } from "./where";

export type Reach = ReadonlyMap<TriggerKind, readonly Rule[]>;
const known = new WeakMap<StudyDocument, Map<string, Reach>>();

/**
 * The rules that are looked at in a place, by what sets them off, in the order in which they are: those of the study, then
 * of the part, then of the scene, each from top to bottom. Documents are never changed in place.
 */
export function rulesInReach(document: StudyDocument, { part, scene }: Where): Reach {
  const byPlace = known.get(document) ?? new Map<string, Reach>();
  known.set(document, byPlace);
  const key = `${part} ${scene}`;
  const found = byPlace.get(key);
  if (found) return found;
  const here = part === null ? undefined : document.parts[part];
  const ofScene = here?.kind === "block" ? here.scenes.find(({ id }) => id === scene)?.rules : undefined;
  const reach = new Map<TriggerKind, Rule[]>();
  for (const rule of [...document.rules, ...(here?.rules ?? []), ...(ofScene ?? [])]) {
    if (rule.off) continue;
    const { on } = rule.when;
    reach.set(on, [...(reach.get(on) ?? []), rule]);
  }
  byPlace.set(key, reach);
  return reach;
}
