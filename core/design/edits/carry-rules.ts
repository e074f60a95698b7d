import type { Rule } from "../../rules/rule";
import type { Id, NewId } from "../../values/ref";
import type { MediaFile, Variable } from "../../values/study-values";
import { freeName } from "../../values/names";
import type { RulePlace } from "../all-rules";
import type { Block } from "../block";
import type { StudyDocument } from "../document";
import { namesEverywhere } from "../names-in-reach";
import { together, type Edit } from "./edit";
import { addRules, addVariable } from "./rules";
import { addService } from "./services";
import type { Service } from "../../values/service";
import { withIds } from "./with-ids";

/** What a rule names in its block or study: what kind of thing it is, and what it is called. */
type Named = {
  id: Id;
  kind: "scene" | "item" | "answer" | "column" | "part" | "groupValue" | "question";
  name: string;
};
/** Rules being copied elsewhere, with what they refer to. They travel as text through the clipboard. */
export type CarriedRules = {
  lapwing: "rules";
  study: string;
  rules: Rule[];
  variables: Variable[];
  services: Service[];
  media: MediaFile[];
  named: Named[];
};

const blockOfPlace = ({ parts }: StudyDocument, { part }: RulePlace): Block | null => {
  const found = part === null ? undefined : parts[part];
  return found?.kind === "block" ? found : null;
};

/** Everything a rule in a place can name, besides variables and media. */
const nameable = (document: StudyDocument, block: Block | null): Named[] => {
  const of = (kind: Named["kind"], all: readonly { id: Id; name: string }[]) =>
    all.map(({ id, name }): Named => ({ id, kind, name }));
  return [
    ...of("scene", block?.scenes ?? []),
    ...of("item", block?.scenes.flatMap(({ items }) => items) ?? []),
    ...of("answer", block?.answers ?? []),
    ...of("column", block?.table.columns ?? []),
    ...of("part", Object.values(document.parts)),
    ...of("groupValue", document.groupValues),
  ];
};

function idsIn(value: unknown, into = new Set<string>()): Set<string> {
  if (typeof value === "string") into.add(value);
  else if (typeof value === "object" && value !== null) for (const inner of Object.values(value)) idsIn(inner, into);
  return into;
}

/** Packs rules of a place with the variables and media they use, and the names of what else they speak of. */
export function packedRules(document: StudyDocument, study: string, place: RulePlace, rules: Rule[]): CarriedRules {
  const used = idsIn(rules.map(({ when, if: only, do: does }) => [when, only, does]));
  return {
    lapwing: "rules",
    study,
    rules,
    variables: document.variables.filter(({ id }) => used.has(id)),
    services: document.services.filter(({ id }) => used.has(id)),
    media: document.media.filter(({ id }) => used.has(id)),
    named: nameable(document, blockOfPlace(document, place)).filter(({ id }) => used.has(id)),
  };
}

/** What was packed, read back from a text; null for any other text. */
export function carriedRulesFrom(text: string): CarriedRules | null {
  if (!text.startsWith('{"lapwing":"rules"')) return null;
  try {
    const value = JSON.parse(text) as Partial<CarriedRules>;
    const isWhole = [value.rules, value.variables, value.services, value.media, value.named].every(Array.isArray);
    return isWhole ? (value as CarriedRules) : null;
  } catch {
    return null;
  }
}

/**
 * Puts packed rules at the end of a place. Names lead: a variable, scene, item or answer of the same name is taken; a
 * variable, service or media file that is not there is added; anything else keeps the id it had, and preflight says that it is gone.
 */
export function unpackedRules(
  document: StudyDocument,
  place: RulePlace,
  carried: CarriedRules,
  newId: NewId,
): { edit: Edit; rules: Id[] } {
  const ids = new Map<Id, Id>();
  const edits: Edit[] = [];
  for (const file of carried.media) {
    const there = document.media.find(({ sha256 }) => sha256 === file.sha256);
    const id = there?.id ?? (document.media.some((each) => each.id === file.id) ? newId("media") : file.id);
    ids.set(file.id, id);
    if (!there) edits.push((draft) => void draft.media.push({ ...file, id }));
  }
  const taken = namesEverywhere(document, null);
  for (const variable of carried.variables) {
    const there = document.variables.find(
      ({ name, type }) => name.toLowerCase() === variable.name.toLowerCase() && type === variable.type,
    );
    const id = there?.id ?? newId("variable");
    ids.set(variable.id, id);
    if (there) continue;
    const name = freeName(variable.name, taken);
    taken.push(name);
    edits.push(addVariable({ ...variable, id, name }));
  }
  for (const service of carried.services) {
    const there = document.services.find(({ address }) => address === service.address);
    const isTaken = document.services.some(({ id }) => id === service.id);
    const id = there?.id ?? (isTaken ? newId("service") : service.id);
    ids.set(service.id, id);
    if (!there) edits.push(addService({ ...service, id }));
  }
  const here = nameable(document, blockOfPlace(document, place));
  for (const { id, kind, name } of carried.named) {
    if (here.some((each) => each.id === id && each.kind === kind)) continue;
    const there = here.find((each) => each.kind === kind && each.name === name);
    if (there) ids.set(id, there.id);
  }
  const rules = carried.rules.map((rule): Rule => ({ ...withIds(rule, ids), id: newId("rule") }));
  edits.push(addRules(place, ...rules));
  return { edit: together(...edits), rules: rules.map(({ id }) => id) };
}
