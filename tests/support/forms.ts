import fc from "fast-check";
import { studyOf } from "~/core/design/new-study";
import { plainPage, type Page, type Piece } from "~/core/design/page";
import type { StudyDocument } from "~/core/design/document";
import { questionKind, questionKinds, type Question, type QuestionKind } from "~/core/questions/registry";
import type { Score } from "~/core/scores/score";
import type { Condition } from "~/core/values/condition";
import { countedIds, plainStudy } from "./studies";

export const pageOf = (id: string, flow: Piece[], more: Partial<Page> = {}): Page => ({
  kind: "page",
  id,
  name: `Page ${id}`,
  flow,
  ...plainPage,
  ...more,
});

export const question = <K extends QuestionKind>(
  kind: K,
  name: string,
  more: Partial<Extract<Question, { kind: K }>> = {},
): Extract<Question, { kind: K }> => ({
  ...(questionKind(kind).make(countedIds(), name) as Extract<Question, { kind: K }>),
  id: `q-${name.replaceAll("_", "-")}`,
  ...more,
});

/** A study of nothing but these pages. */
export const studyOfPages = (pages: Page[], more: Partial<StudyDocument> = {}): StudyDocument => ({
  ...studyOf(countedIds(), "Recipes on a card", "CD34", pages),
  ...more,
});

/** One page with a question of every kind. */
const pageOfEveryKind = () =>
  pageOf(
    "all",
    questionKinds.map((kind) => question(kind, kind.replaceAll("-", "_"))),
  );
export const everyKind = (): StudyDocument => studyOfPages([pageOfEveryKind()]);

/** a study with such a page after its other parts. */
export function withEveryKind(document: StudyDocument): StudyDocument {
  const page = pageOfEveryKind();
  return {
    ...document,
    parts: { ...document.parts, [page.id]: page },
    runningOrder: [...document.runningOrder, { kind: "part", part: page.id }],
  };
}

/** Studies of one to three pages with questions of any kinds, conditions on earlier answers, drawn sets and scores. */
export const anyForms: fc.Arbitrary<StudyDocument> = fc
  .record({
    pages: fc.array(
      fc.array(
        fc.record({
          kind: fc.constantFrom(...questionKinds),
          need: fc.constantFrom("must" as const, "reminder" as const, "may" as const),
          when: fc.option(fc.nat(8)),
          isInSet: fc.boolean(),
        }),
        { minLength: 1, maxLength: 6 },
      ),
      { minLength: 1, maxLength: 3 },
    ),
    take: fc.option(fc.integer({ min: 1, max: 3 })),
    of: fc.constantFrom("sum" as const, "mean" as const, "count-right" as const, "share-right" as const),
    atLeast: fc.integer({ min: 1, max: 3 }),
    onScore: fc.boolean(),
  })
  .map(({ pages, take, of, atLeast, onScore }) => {
    const asked: Question[] = [];
    const flows = pages.map((entries, pageNumber) => {
      const made = entries.map(({ kind, need, when, isInSet }, index) => {
        const earlier = when === null ? undefined : asked[when % Math.max(1, asked.length)];
        const condition: Condition | undefined = !earlier
          ? undefined
          : onScore && index === 1
            ? { left: { from: { score: "total" } }, is: "≥", right: 1 }
            : { left: { from: { question: earlier.id } }, is: index % 2 ? "≠" : "=", right: null };
        const one = {
          ...question(kind, `${kind.replaceAll("-", "_")}_${pageNumber}_${index}`),
          need: kind === "agree" ? ("must" as const) : need,
          ...(condition ? { when: condition } : {}),
        } as Question;
        if ("options" in one && one.kind !== "shares" && one.options[0]) one.options[0].right = true;
        asked.push(one);
        return { one, isInSet };
      });
      const inSet = made.filter((each) => each.isInSet).map(({ one }) => one);
      const set: Piece[] =
        inSet.length > 0
          ? [
              {
                kind: "set",
                id: `set-${pageNumber}`,
                name: "Drawn",
                questions: inSet,
                order: "shuffled",
                ...(take === null ? {} : { take }),
              },
            ]
          : [];
      return pageOf(`p${pageNumber}`, [...made.filter((each) => !each.isInSet).map(({ one }) => one), ...set]);
    });
    const score: Score = { id: "total", name: "total", of, from: asked.map(({ id }) => ({ question: id })), atLeast };
    return studyOfPages(flows, { scores: [score] });
  });

/**
 * A study with trials, two groups and three pages before places are given: consent (`takes_part`, who says no declines),
 * `age` (screened out below 18, and the stratum: below 30, or more), and a page with three of six questions drawn.
 */
export function studyWithOpening(): StudyDocument {
  const document = plainStudy();
  const is = (from: Condition, id: string, as: "declined" | "screened-out") => ({ id, as, when: from, text: [] });
  const pages = [
    pageOf("consent", [question("one-of", "takes_part", { options: yesOrNo, need: "must" })], {
      endings: [is({ left: { from: { question: "q-takes-part" } }, is: "=", right: "no" }, "no", "declined")],
    }),
    pageOf("about", [question("number", "age", { need: "must" })], {
      endings: [is({ left: { from: { question: "q-age" } }, is: "<", right: 18 }, "young", "screened-out")],
    }),
    pageOf("habits", [
      {
        kind: "set",
        id: "habits",
        name: "Habits",
        order: "shuffled",
        take: 3,
        questions: ["a", "b", "c", "d", "e", "f"].map((letter) => question("scale", `habit_${letter}`)),
      },
    ]),
  ];
  return {
    ...document,
    groups: ["early", "late"].map((id) => ({ id, name: id })),
    parts: { ...Object.fromEntries(pages.map((page) => [page.id, page])), ...document.parts },
    runningOrder: [...pages.map(({ id }) => ({ kind: "part" as const, part: id })), ...document.runningOrder],
    allocation: {
      ...document.allocation,
      after: "habits",
      strata: [{ from: { question: "q-age" }, cuts: [30] }],
    },
  };
}
const yesOrNo = [
  { id: "yes", label: "yes" },
  { id: "no", label: "no" },
];
