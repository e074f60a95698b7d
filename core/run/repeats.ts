import { mostOf } from "../allocate/bounds";
import { anyDoes, rulesInTrials } from "../design/all-rules";
import type { StudyDocument } from "../design/document";
import { blockOf } from "../design/lookup";
import { bracketsIn } from "../order/parts";
import { repeatingActions } from "../rules/kinds";
import type { Id } from "../values/ref";
import { trialsOf } from "./block-run";
import { plannedBlock, type BlockRun, type Course, type InTrial, type SessionState } from "./state";

/*
 * Trials and blocks that come more than once, and how records tell.
 */

/** The line with the trial that is played put in once more, after so many others; null where it was shown often enough. */
export function repeatTrial(
  course: Course,
  { run }: SessionState,
  phase: InTrial,
  afterTrials: number,
  most: number,
): BlockRun | null {
  const line = run.line ?? trialsOf(course, phase.part, run.attempt).map((_, index) => index);
  const index = line[phase.trial];
  if (index === undefined || line.length >= mostOf.trials) return null;
  if (line.filter((each) => each === index).length >= most) return null;
  const at = Math.min(line.length, phase.trial + 1 + afterTrials);
  return { ...run, line: [...line.slice(0, at), index, ...line.slice(at)] };
}

/** How often the trial at this place had been shown by then, itself included; 1 where none comes again. */
export function showingOf({ line }: BlockRun, place: number): number {
  if (!line) return 1;
  const index = line[place];
  return line.slice(0, place + 1).filter((each) => each === index).length;
}

/** Whether a block can be played more than once, or its trials can, so that records say which time it was. */
export function canRepeat({ document, plan }: Course, part: number): boolean {
  const known = repeating.get(document) ?? new Map<Id, boolean>();
  repeating.set(document, known);
  const { part: id, brackets } = plannedBlock({ plan }, { part });
  const found = known.get(id);
  if (found !== undefined) return found;
  const block = blockOf(document, id);
  const made =
    block.criterion !== undefined ||
    block.order.again !== undefined ||
    anyDoes(rulesInTrials(document, block), ...repeatingActions) ||
    bracketsIn(document.runningOrder).some((bracket) => bracket.until !== undefined && brackets.includes(bracket.id));
  known.set(id, made);
  return made;
}
const repeating = new WeakMap<StudyDocument, Map<Id, boolean>>();
