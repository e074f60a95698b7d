import type { Id } from "../values/ref";
import type { StudyDocument } from "../design/document";
import { excessesOf, refuseTooLarge } from "./bounds";
import { assignmentInGroup } from "./cells";
import { assignmentsInBlocks } from "./methods/permuted-blocks";
import { methodOf } from "./methods/registry";
import { cellKey, groupOfKey, schemeOf, type Assignment, type Start } from "./scheme";
import { levelsOf, stratumName } from "./strata";

/**
 * The assignment of a participant who starts now. Pure: the same counts and the same participant give the same
 * assignment. Cells are filled evenly in proportion to the groups' shares; an assignment that was given back is used
 * before new ones.
 */
export function allocate(document: StudyDocument, start: Start): Assignment {
  refuseTooLarge(document);
  const asked =
    start.group !== undefined && document.groups.some(({ id }) => id === start.group) ? start.group : undefined;
  return asked === undefined
    ? methodOf(document.allocation.method)(document, start)
    : assignmentInGroup(document, asked, start);
}

/**
 * The same where some groups take nobody more: who would have come into one of these comes into the least filled of the
 * others, in proportion to their shares. Null where none is left, or where the group that was asked for is one of these.
 */
export function allocateBeside(document: StudyDocument, start: Start, taken: ReadonlySet<Id>): Assignment | null {
  const due = allocate(document, start);
  if (!taken.has(due.group)) return due;
  if (start.group === due.group) return null;
  const inGroup = new Map<Id, number>();
  for (const [key, count] of start.counts) inGroup.set(groupOfKey(key), (inGroup.get(groupOfKey(key)) ?? 0) + count);
  const [least] = schemeOf(document)
    .filter(({ group }) => !taken.has(group))
    .toSorted((a, b) => (inGroup.get(a.group) ?? 0) / a.share - (inGroup.get(b.group) ?? 0) / b.share);
  return least ? assignmentInGroup(document, least.group, start) : null;
}

type Planned = { assignments: Assignment[]; next: Iterator<Assignment, never> };
const planned = new WeakMap<StudyDocument, Planned>();

/**
 * The assignment a participant gets when all earlier ones have started and no one drops out; in the first stratum, if
 * there are strata. A study that asks for too much assigns nothing: everyone is in the first group.
 */
export function plannedAssignment(document: StudyDocument, participant: number): Assignment {
  if (excessesOf(document).length > 0) return { group: document.groups[0]?.id ?? "", orders: {} };
  const known = planned.get(document) ?? { assignments: [], next: plannedAssignments(document) };
  planned.set(document, known);
  while (known.assignments.length < participant) known.assignments.push(known.next.next().value);
  return known.assignments[participant - 1] as Assignment;
}

function* plannedAssignments(document: StudyDocument): Generator<Assignment, never> {
  const stratum = stratumName(document.allocation.strata.map((each) => levelsOf(document, each)[0] ?? ""));
  if (document.allocation.method === "permuted-blocks") yield* assignmentsInBlocks(document, stratum);
  const counts = new Map<string, number>();
  for (let participant = 1; ; participant++) {
    const assignment = allocate(document, { participant, stratum, counts });
    counts.set(cellKey(assignment), (counts.get(cellKey(assignment)) ?? 0) + 1);
    yield assignment;
  }
}
