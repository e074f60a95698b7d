import { actionInWords } from "../describe/rules";
import { presentOf, whyNot } from "../describe/why-not";
import { placedRules } from "../design/all-rules";
import type { StudyDocument } from "../design/document";
import { questionsInOrder } from "../design/questions";
import { compile } from "../compile/compile";
import type { SessionRecord } from "../records/record";
import type { Rule } from "../rules/rule";
import { ruleName } from "../rules/rule";
import { builtInNames } from "../values/built-ins";
import type { Context } from "../values/context";
import { looksAtDevice } from "../values/device";
import type { Id, Ref } from "../values/ref";
import type { PlayedBy } from "./follower";
import type { SessionMachine } from "./machine";
import { eventsOf } from "./replay";
import { sessionMachine } from "./session-machine";
import { plannedBlock, type SessionState, type Told } from "./state";

/** A rule that was set off: in which trial, what it did, or why it did not. */
export type SeenRule = { at: number; trial: number | null; rule: string; did: string | null; whyNot: string | null };
/** A value as it stands at the end of some records. */
export type PresentValue = { name: string; value: string };
export type Watched = { values: PresentValue[]; rules: SeenRule[] };

/** So many of the latest are told. */
const mostSeen = 100;

/**
 * Looks on at a session: plays its records again as they come, and tells what values are at their end and what each rule that
 * was set off did, or why it did not.
 */
export class Onlooker {
  readonly #document: StudyDocument;
  readonly #machine: SessionMachine;
  #state: SessionState;
  #seen: SeenRule[] = [];
  #trial: number | null = null;
  #position = 0;

  constructor(document: StudyDocument, { participant, seed, group, orders, entered, begins }: PlayedBy) {
    this.#document = document;
    const told: Told = (rule, held, at, context) => this.#note(rule, held, at, context);
    const plan = compile(document, participant, seed, group, orders, entered);
    this.#machine = sessionMachine(document, plan, begins, told);
    ({ state: this.#state } = this.#machine.begin());
  }

  /** How many records it has seen. */
  get position(): number {
    return this.#position;
  }

  /** Sees the next record. One that cannot be played again changes nothing. */
  see(record: SessionRecord): void {
    this.#position++;
    this.#trial = "trial" in record ? record.trial : null;
    let state = this.#state;
    try {
      for (const event of eventsOf(record)) ({ state } = this.#machine.next(state, event));
      this.#state = state;
    } catch {
      // What was told there may be anything of its type, also what no device gives.
    }
  }

  #note(rule: Rule, held: boolean, at: number, context: Context): void {
    const placed = placedById(this.#document).get(rule.id);
    const part = placed?.place.part == null ? undefined : this.#document.parts[placed.place.part];
    const of = { document: this.#document, block: part?.kind === "block" ? part : null };
    this.#seen.push({
      at,
      trial: this.#trial,
      rule: placed ? ruleName(placed.all, rule.id) : rule.id,
      did: held ? rule.do.map((action) => actionInWords(action, of)).join("; ") : null,
      whyNot: held || !rule.if ? null : whyNot(rule.if, context, of),
    });
    if (this.#seen.length > 2 * mostSeen) this.#seen = this.#seen.slice(-mostSeen);
  }

  tell(): Watched {
    const document = this.#document;
    const context = this.#machine.context(this.#state);
    const { phase } = this.#state;
    const here = phase.kind === "trial" ? plannedBlock(this.#machine.course, phase).part : null;
    const block = here === null ? undefined : document.parts[here];
    // Elsewhere nothing is kept of the device.
    const isLookedAt = (name: string) => !name.startsWith("device.") || looksAtDevice(document);
    const value = (name: string, ref: Ref): PresentValue => ({ name, value: presentOf({ from: ref }, context) });
    return {
      values: [
        ...document.variables.map(({ id, name }) => value(name, { variable: id })),
        ...(block?.kind === "block" ? block.table.columns.map(({ id, name }) => value(name, { column: id })) : []),
        ...document.groupValues.map(({ id, name }) => value(name, { groupValue: id })),
        ...questionsInOrder(document).map(({ question }) => value(question.name, { question: question.id })),
        ...document.scores.map(({ id, name }) => value(name, { score: id })),
        ...builtInNames.filter(isLookedAt).map((name) => value(name, { builtIn: name })),
      ],
      rules: this.#seen.slice(-mostSeen),
    };
  }
}

const placedRuleById = new WeakMap<StudyDocument, Map<Id, ReturnType<typeof placedRules>[number]>>();
function placedById(document: StudyDocument) {
  const found = placedRuleById.get(document) ?? new Map(placedRules(document).map((each) => [each.rule.id, each]));
  placedRuleById.set(document, found);
  return found;
}
