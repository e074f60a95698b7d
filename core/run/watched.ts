import { actionInWords } from "../describe/rules";
import { presentOf, whyNot } from "../describe/why-not";
import { placedRules } from "../design/all-rules";
import type { StudyDocument } from "../design/document";
import { compile } from "../compile/compile";
import type { SessionRecord } from "../records/record";
import type { Rule } from "../rules/rule";
import { ruleName } from "../rules/rule";
import { builtInNames } from "../values/built-ins";
import type { Context } from "../values/context";
import type { Id, Ref } from "../values/ref";
import type { PlayedBy } from "./follower";
import { eventsOf } from "./replay";
import { sessionMachine } from "./session-machine";

/** A rule that was set off: in which trial, what it did, or why it did not. */
export type SeenRule = { at: number; trial: number | null; rule: string; did: string | null; whyNot: string | null };
/** A value as it stands at the end of some records. */
export type PresentValue = { name: string; value: string };
export type Watched = { values: PresentValue[]; rules: SeenRule[] };

/** So many of the latest are told. */
const mostSeen = 100;

/**
 * Plays a session's records again, and tells what values are at their end and what each rule that was set off did, or why it
 * did not. The records are its first, in order; those that do not follow are left out, with what comes after them.
 */
export function watched(document: StudyDocument, by: PlayedBy, records: readonly SessionRecord[]): Watched {
  const plan = compile(document, by.participant, by.seed, by.group, by.orders, by.entered);
  let seen: SeenRule[] = [];
  let trial: number | null = null;
  const told = (rule: Rule, held: boolean, at: number, context: Context) => {
    const placed = placedById(document).get(rule.id);
    const part = placed?.place.part == null ? undefined : document.parts[placed.place.part];
    const of = { document, block: part?.kind === "block" ? part : null };
    seen.push({
      at,
      trial,
      rule: placed ? ruleName(placed.all, rule.id) : rule.id,
      did: held ? rule.do.map((action) => actionInWords(action, of)).join("; ") : null,
      whyNot: held || !rule.if ? null : whyNot(rule.if, context, of),
    });
    if (seen.length > 2 * mostSeen) seen = seen.slice(-mostSeen);
  };
  const machine = sessionMachine(document, plan, by.given, told);
  let { state } = machine.begin();
  try {
    for (const record of records)
      for (const event of eventsOf(record)) {
        trial = "trial" in record ? record.trial : null;
        ({ state } = machine.next(state, event));
      }
  } catch {
    // What cannot be played again is not told of.
  }
  const context = machine.context(state);
  const value = (name: string, ref: Ref): PresentValue => ({ name, value: presentOf({ from: ref }, context) });
  return {
    values: [
      ...document.variables.map(({ id, name }) => value(name, { variable: id })),
      ...builtInNames.map((name) => value(name, { builtIn: name })),
    ],
    rules: seen.slice(-mostSeen),
  };
}

const placedRuleById = new WeakMap<StudyDocument, Map<Id, ReturnType<typeof placedRules>[number]>>();
function placedById(document: StudyDocument) {
  const found = placedRuleById.get(document) ?? new Map(placedRules(document).map((each) => [each.rule.id, each]));
  placedRuleById.set(document, found);
  return found;
}
