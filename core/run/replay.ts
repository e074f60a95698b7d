import { entriesOf } from "./form";
import type { SessionEvent, Step } from "./state";
import type { SessionMachine } from "./machine";
import type { PageRecord, SessionRecord } from "../records/record";

const waysToLeave = { continue: "continue", time: "time-up", back: "back", withdrawn: "page-left" } as const;

/** The events that led to a record, in an order that gives the same state again. */
export function eventsOf(record: SessionRecord): SessionEvent[] {
  if (record.kind === "end") return record.withdrawn ? [{ kind: "withdraw", at: record.at }] : [];
  if (record.kind === "break")
    return [
      { kind: "page-shown", at: record.shown },
      { kind: "continue", at: record.done },
    ];
  if (record.kind === "page")
    return [
      { kind: "page-shown", at: record.shown },
      ...Object.values(entriesOf(record.answers ?? [])).map((entry): SessionEvent => ({ kind: "page-answer", entry })),
      ...(record.reminded === undefined ? [] : [{ kind: "remind" as const, at: record.reminded }]),
      ...actsOf(record),
      // What a rule left was left by the last of them.
      ...(record.left === "rule" ? [] : [{ kind: waysToLeave[record.left ?? "continue"], at: record.done }]),
    ];
  const flips: SessionEvent[] = record.scenes.map(({ onset }, index) => ({
    kind: "flip",
    at: onset,
    late: index === 0 && record.kind === "trial" ? record.lateFrames : 0,
    ended: record.scenes[index - 1]?.ended,
    ...(index === 0 && record.settled ? { settled: record.settled } : {}),
  }));
  const last = record.scenes.at(-1);
  if (record.kind === "broken-off") flips.push({ kind: "break-off", at: record.at, why: record.why });
  else if (last) flips.push({ kind: "flip", at: last.end, late: 0, ended: last.ended });
  const taken = record.answers
    .flatMap(({ given, early, tooLate, revised }) => [...early, ...revised, given ?? [], tooLate ?? []].flat())
    .map(({ order, scenesShown, at, input }) => ({ order, scenesShown, event: { kind: "input" as const, at, input } }));
  const happened = [
    ...taken,
    ...(record.acts ?? []).map(({ order, scenesShown, at, happened: what }) => ({
      order,
      scenesShown,
      event: { kind: "act" as const, at, happened: what },
    })),
  ].sort((a, b) => a.order - b.order);
  const observed = record.observed.map((observation): SessionEvent => ({ kind: "observed", observation }));
  return [
    ...flips.slice(0, 1),
    ...(record.kind === "trial" && record.interrupted
      ? [{ kind: "interrupted" as const, why: record.interrupted }]
      : []),
    ...observed,
    ...flips.flatMap((flip, index): SessionEvent[] => [
      ...happened.filter(({ scenesShown }) => scenesShown === index).map(({ event }): SessionEvent => event),
      ...(index === 0 ? [] : [flip]),
    ]),
  ];
}

const actsOf = ({ acts = [] }: PageRecord): SessionEvent[] =>
  acts.map(({ at, happened }) => ({ kind: "act", at, happened }));

/**
 * The step at which a session stands after these records, which are its first, in order.
 * `unsaved` are records the machine makes of the same events that are not among them (an end whose writing was cut off).
 * Throws when they do not belong to this plan: a record's number, part or trial differs from what the machine makes.
 */
export function rebuild(
  machine: SessionMachine,
  records: readonly SessionRecord[],
): Step & { unsaved: SessionRecord[] } {
  let step = machine.begin();
  const made: SessionRecord[] = [];
  for (const record of records) {
    for (const event of eventsOf(record)) {
      const after = machine.next(step.state, event);
      made.push(...after.commands.flatMap((command) => (command.kind === "record" ? [command.record] : [])));
      step = after;
    }
    const again = made.shift();
    if (
      !again ||
      again.number !== record.number ||
      again.kind !== record.kind ||
      (again.kind !== "end" && record.kind !== "end" && again.part !== record.part)
    )
      throw new Error(`Record ${record.number} does not belong to this session's plan`);
  }
  return { state: step.state, commands: step.commands.filter(({ kind }) => kind !== "record"), unsaved: made };
}
