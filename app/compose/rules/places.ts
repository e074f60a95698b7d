import { placedRules, type PlacedRule, type RulePlace } from "~/core/design/all-rules";
import type { Block } from "~/core/design/block";
import type { StudyDocument } from "~/core/design/document";
import type { Level } from "~/core/rules/kinds";
import type { Id } from "~/core/values/ref";

/** The rule with this id, where it stands; of several with one id (blocks that share their trials) that of the part. */
export function placedRule(document: StudyDocument, id: Id, part: Id | null): PlacedRule | undefined {
  const all = placedRules(document).filter(({ rule }) => rule.id === id);
  return all.find(({ place }) => place.part === part) ?? all[0];
}

export function levelOf(document: StudyDocument, { part, scene }: RulePlace): Level {
  if (part === null) return "study";
  if (scene !== null) return "scene";
  return document.parts[part]?.kind === "page" ? "page" : "block";
}

export function blockAt(document: StudyDocument, { part }: RulePlace): Block | null {
  const found = part === null ? undefined : document.parts[part];
  return found?.kind === "block" ? found : null;
}

/** Where a rule holds, after its name: “in every trial of Practice”. */
export function placeInWords(document: StudyDocument, { part, scene }: RulePlace): string {
  const found = part === null ? undefined : document.parts[part];
  if (!found) return "in the whole study";
  if (found.kind === "page") return `on the page ${found.name}`;
  const there = found.scenes.find(({ id }) => id === scene);
  return there ? `in the scene ${there.name} of ${found.name}` : `in every trial of ${found.name}`;
}
