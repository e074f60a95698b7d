import type { Id } from "../../values/ref";
import type { StudyDocument } from "../../design/document";
import { streamFor } from "../../random/stream";
import { shuffled } from "../../random/shuffle";
import { cellInGroup } from "../cells";
import { cellKey, assignmentTo, schemeOf, shareOf, type Assignment } from "../scheme";
import type { Method } from "./method";

/**
 * Permuted blocks (Zelen, 1974): participants are taken in blocks that hold each group as often as its share says,
 * times the block's length, in an order drawn for the block. Within a group the cells come in permuted blocks too. The
 * next one is the first in this list whose cell has fewer sessions than the list has given it so far: the participant's
 * own while no one drops out, and otherwise one that was given back.
 */
export const permutedBlocks: Method = (document, { stratum, counts }) => {
  const seen = new Map<string, number>();
  for (const { assignment, key } of listed(document, stratum)) {
    const often = (seen.get(key) ?? 0) + 1;
    seen.set(key, often);
    if ((counts.get(key) ?? 0) < often) return assignment;
  }
  throw new Error("The list of assignments has no end");
};

type Listed = { assignment: Assignment; key: string };
type List = { known: Listed[]; more: Iterator<Assignment, never> };
const lists = new WeakMap<StudyDocument, Map<string, List>>();

/** The endless list of a stratum's assignments, each with its cell's key; drawn once, as far as needed. */
function* listed(document: StudyDocument, stratum: string): Generator<Listed, never> {
  const ofDocument = lists.get(document) ?? new Map<string, List>();
  lists.set(document, ofDocument);
  const list = ofDocument.get(stratum) ?? { known: [], more: drawnAssignments(document, stratum) };
  ofDocument.set(stratum, list);
  for (let nth = 0; ; nth++) {
    let next = list.known[nth];
    if (!next) {
      const assignment = list.more.next().value;
      next = { assignment, key: cellKey(assignment) };
      list.known.push(next);
    }
    yield next;
  }
}

/** The assignments in that list. */
export function* assignmentsInBlocks(document: StudyDocument, stratum: string): Generator<Assignment, never> {
  for (const { assignment } of listed(document, stratum)) yield assignment;
  throw new Error("The list of assignments has no end");
}

function* drawnAssignments(document: StudyDocument, stratum: string): Generator<Assignment, never> {
  const schemes = new Map(schemeOf(document).map((scheme) => [scheme.group, scheme]));
  const nth = new Map<Id, number>();
  for (let block = 0; ; block++)
    for (const group of groupsOfBlock(document, block, stratum)) {
      const scheme = schemes.get(group);
      if (!scheme) continue;
      const number = nth.get(group) ?? 0;
      nth.set(group, number + 1);
      yield assignmentTo(scheme, cellInGroup(document, group, scheme.cells, number, stratum));
    }
}

function groupsOfBlock({ groups, settings, allocation }: StudyDocument, block: number, stratum: string): Id[] {
  const key = [settings.seed, "groups", block, ...(stratum ? [stratum] : [])] as const;
  const sizes = allocation.blockSizes;
  const times = (sizes.length < 2 ? sizes[0] : sizes[streamFor(...key, "length").whole(0, sizes.length - 1)]) ?? 1;
  const once = groups.flatMap((group) => Array.from({ length: shareOf(group) * times }, () => group.id));
  return shuffled(once, streamFor(...key));
}
