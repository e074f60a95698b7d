import fc from "fast-check";
import { newStudy } from "~/core/design/new-study";
import type { NewId } from "~/core/values/ref";
import { blocksInOrder } from "~/core/design/lookup";
import type { Block } from "~/core/design/block";
import type { StudyDocument } from "~/core/design/document";

/** Ids in order, so that test documents are the same every time. */
export function countedIds(): NewId {
  let count = 0;
  return (prefix) => `${prefix}-${++count}`;
}

/** The study a new one starts as: one block of two rows, keys F and J. */
export const plainStudy = (): StudyDocument => newStudy(countedIds(), "Harbour lights", "AB12");

export const firstBlock = (document: StudyDocument): Block => {
  const block = blocksInOrder(document)[0];
  if (!block) throw new Error("no block");
  return block;
};

/** A copy in which the first block was changed by hand. */
export function withBlock(document: StudyDocument, change: (block: Block, copy: StudyDocument) => void): StudyDocument {
  const copy = structuredClone(document);
  change(firstBlock(copy), copy);
  return copy;
}

/** Playable studies of many forms: groups, passes, copies, one to four scenes of every duration kind, one or two answers in any windows. */
export const anyStudy: fc.Arbitrary<StudyDocument> = fc
  .record({
    groups: fc.integer({ min: 1, max: 4 }),
    passes: fc.integer({ min: 1, max: 3 }),
    copies: fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 1, maxLength: 5 }),
    method: fc.constantFrom("shuffled" as const, "as-listed" as const, "with-replacement" as const),
    lasts: fc.array(
      fc.oneof(
        fc.record({ kind: fc.constant("ms" as const), ms: fc.integer({ min: 0, max: 400 }) }),
        fc.record({
          kind: fc.constant("random-ms" as const),
          from: fc.integer({ min: 10, max: 100 }),
          to: fc.integer({ min: 100, max: 300 }),
          step: fc.constantFrom(5, 10, 37),
        }),
        fc.record({ kind: fc.constant("until-answer" as const), atMostMs: fc.integer({ min: 100, max: 900 }) }),
      ),
      { minLength: 1, maxLength: 4 },
    ),
    window: fc.tuple(fc.nat(3), fc.nat(3)),
    onAnswer: fc.constantFrom("move-on" as const, "stay" as const),
    counts: fc.constantFrom("first" as const, "last" as const),
    onEarly: fc.constantFrom("go-on" as const, "end-window" as const),
    second: fc.boolean(),
    practice: fc.boolean(),
    breaks: fc.constantFrom(0, 0, 1, 3),
    conditional: fc.boolean(),
    blocks: fc.integer({ min: 1, max: 3 }),
  })
  .map((form) => {
    const document = plainStudy();
    const original = firstBlock(document);
    document.groups = Array.from({ length: form.groups }, (_, index) => ({ id: `g${index}`, name: `Group ${index}` }));
    const cells = original.table.rows[0]?.cells ?? {};
    const block: Block = {
      ...original,
      practice: form.practice,
      ...(form.breaks ? { breaks: { everyTrials: form.breaks, body: [], leastSeconds: 0 } } : {}),
      order: { method: form.method, passes: form.passes, limits: [] },
      table: {
        ...original.table,
        rows: form.copies.map((copies, index) => ({
          id: `r${index}`,
          copies: index === 0 ? copies + 1 : copies,
          cells,
        })),
      },
      scenes: form.lasts.map((lasts, index) => ({
        id: `s${index}`,
        name: `scene ${index}`,
        lasts,
        items: [],
        ...(form.conditional && index === form.lasts.length - 1 && index > 0
          ? { when: { left: { from: { builtIn: "last.outcome" } }, is: "=" as const, right: "right" } }
          : {}),
      })),
      answers: (form.second ? [0, 1] : [0]).map((number) => {
        const [a, b] = form.window.map((position) => Math.min((position + number) % 4, form.lasts.length - 1)) as [
          number,
          number,
        ];
        const [answer] = original.answers;
        if (!answer) throw new Error("no answer");
        return {
          ...answer,
          id: `a${number}`,
          name: `answer ${number}`,
          counts: form.counts,
          onEarly: number === 0 ? form.onEarly : "go-on",
          opensWith: `s${Math.min(a, b)}`,
          closesWith: `s${Math.max(a, b)}`,
          onAnswer: form.onAnswer,
        };
      }),
    };
    const copies = Array.from({ length: form.blocks }, (_, index): Block => ({
      ...structuredClone(block),
      id: `${original.id}-${index}`,
      name: `Block ${index}`,
    }));
    const pages = Object.values(document.parts).filter(({ kind }) => kind === "page");
    document.parts = Object.fromEntries([...pages, ...copies].map((part) => [part.id, part]));
    document.runningOrder = [pages[0], ...copies, pages[1]].flatMap((part) =>
      part ? [{ kind: "part" as const, part: part.id }] : [],
    );
    return document;
  });
