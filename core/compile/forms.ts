import { isQuestion, isSet } from "../design/questions";
import type { Page } from "../design/page";
import { questionKind, type Question } from "../questions/registry";
import { shuffled } from "../random/shuffle";
import { streamFor } from "../random/stream";
import { takeEvenly } from "../random/take";
import type { Id } from "../values/ref";

/** What is drawn of a page for one participant. */
export type PlannedForm = {
  /** The questions of each set that has them drawn or shuffled, in their order. */
  sets: Record<Id, Id[]>;
  /** The options or lines of each question whose order is drawn. */
  orders: Record<Id, Id[]>;
};

/**
 * Draws a page: which questions of its sets are asked, each equally often over participants, in which order, and how
 * options are ordered. Every draw has a stream of its own.
 */
export function planForm(page: Page, seed: string, participant: number): PlannedForm {
  const sets: Record<Id, Id[]> = {};
  const orders: Record<Id, Id[]> = {};
  for (const piece of page.flow) {
    if (isSet(piece)) {
      const ids = piece.questions.map(({ id }) => id);
      const taken = drawn(ids, piece.take ?? ids.length, participant, [seed, page.id, piece.id, "questions"]);
      const listed = ids.filter((id) => taken.has(id));
      sets[piece.id] =
        piece.order === "shuffled" ? shuffled(listed, streamFor(seed, participant, page.id, piece.id, "set")) : listed;
      for (const question of piece.questions) if (taken.has(question.id)) drawOrder(question);
    } else if (isQuestion(piece)) drawOrder(piece);
  }
  return { sets, orders };

  function drawOrder(question: Question) {
    const order = questionKind(question.kind).order?.(question);
    if (!order || order.how === "listed" || order.entries.length < 2) return;
    const stream = streamFor(seed, participant, page.id, question.id, "options");
    const ids = order.entries.map(({ id }) => id);
    const moving = ids.filter((id) => !order.last.includes(id));
    const start = order.how === "rotated" && moving.length > 0 ? stream.whole(0, moving.length - 1) : 0;
    const ordered =
      order.how === "shuffled" ? shuffled(moving, stream) : [...moving.slice(start), ...moving.slice(0, start)];
    orders[question.id] = [...ordered, ...ids.filter((id) => order.last.includes(id))];
  }
}

/** So many of a list, each equally often over participants. Where more are taken than left, those left out are drawn: that is quicker. */
function drawn(ids: readonly Id[], take: number, participant: number, key: readonly (string | number)[]): Set<Id> {
  if (take >= ids.length) return new Set(ids);
  const draw = (count: number) => takeEvenly([ids], count, participant - 1, key);
  if (take <= ids.length / 2) return new Set(draw(take));
  const left = new Set(draw(ids.length - take));
  return new Set(ids.filter((id) => !left.has(id)));
}

/** The questions a participant can be asked on a page, in the order of the plan. */
export const plannedQuestions = (page: Page, { sets }: PlannedForm): Question[] =>
  page.flow.flatMap((piece) => {
    if (isQuestion(piece)) return [piece];
    if (!isSet(piece)) return [];
    const byId = new Map(piece.questions.map((question) => [question.id, question]));
    return (sets[piece.id] ?? []).flatMap((id) => byId.get(id) ?? []);
  });
