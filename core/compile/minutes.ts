import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import { partOf, trialsInBlock } from "../design/lookup";
import type { Page } from "../design/page";
import { isQuestion, isSet } from "../design/questions";
import type { PartNode, RunningNode } from "../design/running-order";
import { sittingNumbered } from "../design/sittings";
import { isInSitting } from "../order/parts";
import type { Scene } from "../design/scene";
import { playedMs } from "../items/item";
import { questionKind, type Question } from "../questions/registry";
import type { Condition } from "../values/condition";
import { contextFor } from "../values/context";
import type { Criterion } from "../rules/criterion";
import type { FormattedText } from "../values/formatted-text";
import type { Id } from "../values/ref";
import { holds, resolveNumber } from "../values/resolve";
import { usesIn } from "../values/uses";

/** Assumed where only an answer ends a scene, in milliseconds, and how fast people read, in words a minute. */
const answerMs = 500;
const wordsPerMinute = 180;

/**
 * About how long a session takes, in minutes: as measured where there are data, else planned durations, half a second for an
 * answer, reading time. Of a sitting where its number is given, else of all parts.
 */
export const expectedMinutes = (
  document: StudyDocument,
  measured: Readonly<Record<Id, number>> = {},
  sitting: number | null = null,
): number => summed(playedIn(document, sitting), (id) => measured[id] ?? partMinutes(document, id));

/** What a sitting plays of the running order, by its number; all of it where none is given. */
type Played = { document: StudyDocument; nodes: readonly RunningNode[]; has: (node: PartNode) => boolean };
const playedIn = (document: StudyDocument, sitting: number | null): Played => ({
  ...{ document, nodes: document.runningOrder },
  has: (node) => sitting === null || isInSitting(node, sittingNumbered(document, sitting)),
});

/** The same where everything that is repeated until good enough takes all its attempts, with the page before each. */
export const mostMinutes = (
  document: StudyDocument,
  measured: Readonly<Record<Id, number>> = {},
  sitting: number | null = null,
): number =>
  summed(
    playedIn(document, sitting),
    (id) => {
      const part = document.parts[id];
      const { criterion, order } = part?.kind === "block" ? part : noRepeats;
      const once = (order?.again?.most ?? 1) * partMinutes(document, id);
      if (!criterion) return order?.again ? once : (measured[id] ?? once);
      return withPages(document, criterion, once);
    },
    (until, once) => (until ? withPages(document, until, once) : once),
  );

const noRepeats: Partial<Pick<Block, "criterion" | "order">> = {};

const withPages = (document: StudyDocument, { attempts, before }: Criterion, once: number): number =>
  once * attempts +
  (before !== undefined && document.parts[before] ? partMinutes(document, before) : 0) * (attempts - 1);

/** Parts that a bracket leaves out are not played: its parts count by the share that is taken. Nor are those that only rules show. */
function summed(
  played: Played,
  ofPart: (id: Id) => number,
  ofBracket: (until: Criterion | undefined, once: number) => number = (_, once) => once,
): number {
  const { document, nodes, has } = played;
  return nodes.reduce((total, node) => {
    if (node.kind === "part")
      return total + (document.parts[node.part] && !node.aside && has(node) ? ofPart(node.part) : 0);
    const share = Math.min(1, (node.take ?? node.nodes.length) / Math.max(1, node.nodes.length));
    return total + ofBracket(node.until, share * summed({ ...played, nodes: node.nodes }, ofPart, ofBracket));
  }, 0);
}

/** About how long a part takes, in minutes, as planned: half a second for an answer, reading time. */
export function partMinutes(document: StudyDocument, id: Id): number {
  const part = partOf(document, id);
  if (part.kind === "page") return pageMinutes(part);
  const lengths: number[] = [];
  for (const scene of part.scenes) lengths.push(sceneMs(document, part, scene, lengths));
  return (trialsInBlock(part) * lengths.reduce((sum, length) => sum + length, 0)) / 60_000;
}

/** Its words read, its questions answered (of a set those that are drawn), its sounds and videos heard; no longer than it may be on. */
function pageMinutes({ flow, time }: Page): number {
  const read = (seconds: number, count: number) => seconds + (count / wordsPerMinute) * 60;
  const asking = (questions: readonly Question[]) =>
    questions.reduce(
      (sum, question) => read(sum, words(question.text)) + questionKind(question.kind).seconds(question),
      0,
    );
  const seconds = flow.reduce((sum, piece) => {
    if (isQuestion(piece)) return sum + asking([piece]);
    if (isSet(piece)) {
      const all = piece.questions.length;
      return all === 0 ? sum : sum + (asking(piece.questions) * Math.min(all, piece.take ?? all)) / all;
    }
    if (piece.kind === "text") return read(sum, words(piece.text));
    if (piece.kind === "table")
      return read(sum, piece.rows.flat().flatMap((cell) => cell.split(/\s+/).filter(Boolean)).length);
    const plays = (piece.kind === "sound" || piece.kind === "video") && piece.ends !== undefined;
    return plays ? sum + Math.max(0, (piece.ends ?? 0) - (piece.begins ?? 0)) : sum;
  }, 5);
  return Math.max(time?.least ?? 0, Math.min(time?.most ?? Infinity, seconds)) / 60;
}

/** What is left of the time an answer takes when the scene after these comes on: its window may have opened with an earlier one. */
function stillToAnswer({ scenes, answers }: Block, before: readonly number[]): number {
  const at = (id: Id) => scenes.findIndex((scene) => scene.id === id);
  const opened = answers.flatMap(({ opensWith, closesWith }) =>
    at(opensWith) <= before.length && at(closesWith) >= before.length ? [at(opensWith)] : [],
  );
  const since = before.slice(Math.min(before.length, ...opened)).reduce((sum, length) => sum + length, 0);
  return Math.max(0, answerMs - since);
}

/** A condition that hangs on nothing but whether the block is practice. */
const isOfPractice = (when: Condition): boolean =>
  usesIn(when).every(({ ref }) => "builtIn" in ref && ref.builtIn === "block.practice");

const words = (text: FormattedText) =>
  text
    .flatMap(({ runs }) => runs)
    .reduce((sum, run) => sum + ("text" in run ? run.text.split(/\s+/).filter(Boolean).length : 1), 0);

/** How long a scene stays, in milliseconds, after scenes of these lengths. */
function sceneMs(document: StudyDocument, block: Block, scene: Scene, before: readonly number[]): number {
  const { practice } = block;
  const { lasts, when } = scene;
  const whose = { study: document, group: document.groups[0]?.id ?? "", participant: 1 };
  const context = contextFor(whose, { isPractice: practice });
  if (when && isOfPractice(when) && !holds(when, context)) return 0;
  switch (lasts.kind) {
    case "ms":
      return resolveNumber(lasts.ms, context) ?? answerMs;
    case "random-ms":
      return (lasts.from + lasts.to) / 2;
    case "media-end":
      return playedMs(scene.items, context);
    case "until-answer":
      return Math.min(
        stillToAnswer(block, before),
        lasts.atMostMs === undefined ? answerMs : (resolveNumber(lasts.atMostMs, context) ?? answerMs),
      );
  }
}
