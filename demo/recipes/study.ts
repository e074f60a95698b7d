import { freshAllocation } from "../../core/design/allocation";
import type { StudyDocument } from "../../core/design/document";
import { plainPage, type Page, type Piece } from "../../core/design/page";
import { newParticipation } from "../../core/design/participation";
import type { RunningNode } from "../../core/design/running-order";
import { newSettings } from "../../core/design/settings";
import { currentVersion } from "../../core/design/version";
import type { Question, QuestionOf } from "../../core/questions/registry";
import type { Paragraph } from "../../core/values/formatted-text";
import type { Ref } from "../../core/values/ref";
import type { MediaFile } from "../../core/values/study-values";
import { recipes, type Recipe } from "./recipes";

/* A study of our own: which way of writing a recipe down is remembered best. */

const line = (as: Paragraph["as"], ...runs: (string | Ref)[]): Paragraph => ({
  as,
  runs: runs.map((run) => (typeof run === "string" ? { text: run } : { ref: run })),
});
const text = (id: string, ...lines: Paragraph[]): Piece => ({ kind: "text", id, text: lines });
const page = (id: string, name: string, flow: Piece[], more: Partial<Page> = {}): Page => ({
  kind: "page",
  id,
  name,
  flow,
  ...plainPage,
  ...more,
});
const asks = (name: string, says: string) => ({
  id: `q-${name.replaceAll("_", "-")}`,
  name,
  text: [line("paragraph", says)],
  explanation: "",
  need: "reminder" as const,
  ratherNot: false,
});
const oneOf = (
  name: string,
  says: string,
  options: readonly string[],
  more: Partial<QuestionOf<"one-of">> = {},
): QuestionOf<"one-of"> => ({
  kind: "one-of",
  ...asks(name, says),
  options: options.map((label, index) => ({ id: `${name.replaceAll("_", "-")}-${index + 1}`, label })),
  order: "listed",
  layout: "list",
  ...more,
});
const mark = (name: string, says: string): Question => ({
  kind: "line",
  ...asks(name, says),
  from: 0,
  to: 100,
  step: 1,
  showsValue: false,
  left: "not at all",
  middle: "",
  right: "every step",
});

const groups = [
  { id: "together", name: "Together" },
  { id: "stepwise", name: "Step by step" },
  { id: "pictured", name: "With pictures" },
];

/** One recipe as each group reads it. */
const readings = (recipe: Recipe): { group: string; page: Page }[] => {
  const heading = text(`${recipe.id}-name`, line("heading", recipe.name));
  const time = { most: 45, warns: 10, countdown: false };
  const one = (group: string, name: string, flow: Piece[], more: Partial<Page> = {}) => ({
    group,
    page: page(`${recipe.id}-${group}`, name, [heading, ...flow], { time, continueLabel: "Next recipe", ...more }),
  });
  return [
    one("together", `${recipe.name}, together`, [
      text(`${recipe.id}-all`, ...recipe.steps.map(([, step]) => line("numbered", step))),
    ]),
    one(
      "stepwise",
      `${recipe.name}, step by step`,
      recipe.steps.flatMap(([, step], index): Piece[] => [
        ...(index > 0 ? [{ kind: "rule" as const, id: `${recipe.id}-rule-${index}` }] : []),
        text(`${recipe.id}-step-${index}`, line("paragraph", `${index + 1}. ${step}`)),
      ]),
      { shows: "one" },
    ),
    one(
      "pictured",
      `${recipe.name}, with pictures`,
      recipe.steps.flatMap(([picture, step], index): Piece[] => [
        { kind: "picture", id: `${recipe.id}-picture-${index}`, file: picture, width: 9, says: picture },
        text(`${recipe.id}-step-${index}`, line("paragraph", `${index + 1}. ${step}`)),
      ]),
    ),
  ];
};

/** The knowledge test, out of the recipes' lists. */
const test: QuestionOf<"one-of">[] = recipes.flatMap(({ id, questions }) =>
  questions.map(([says, right, ...wrong], index): QuestionOf<"one-of"> => ({
    ...oneOf(`${id}_${index + 1}`, says, [right, ...wrong], { order: "shuffled" }),
    options: [right, ...wrong].map((label, at) => ({
      id: `${id}-${index + 1}-${at + 1}`,
      label,
      ...(at === 0 ? { right: true as const } : {}),
    })),
  })),
);

const numbers = [417, 52, 809, 263, 38, 641, 174, 96, 730, 385];

const before: Page[] = [
  page(
    "about",
    "About this study",
    [
      text(
        "t",
        line("heading", "Recipes at the stove"),
        line(
          "paragraph",
          "You read four short recipes, put some numbers in order, and answer questions about the recipes. It takes about twelve minutes.",
        ),
        line("bullet", "Taking part is voluntary. You may stop at any time, without giving a reason."),
        line("bullet", "We keep your answers and how long they took. We do not ask who you are."),
      ),
      oneOf("take_part", "Do you want to take part?", ["yes", "no"], { need: "must" }),
      {
        kind: "agree",
        ...asks("informed", ""),
        need: "must",
        label: "I have read this, and my questions have been answered.",
        when: { left: { from: { question: "q-take-part" } }, is: "=", right: "yes" },
      },
      {
        kind: "own-code",
        ...asks("code", "Please make up a code, so that your answers can be put together with those of a later day."),
        when: { left: { from: { question: "q-take-part" } }, is: "=", right: "yes" },
        pieces: [
          { of: "letters", count: 3, hint: "the first three letters of a dish you like" },
          { of: "digits", count: 2, hint: "any two digits you will remember" },
        ],
        twice: true,
      },
    ],
    {
      copy: true,
      endings: [
        {
          id: "declined",
          when: { left: { from: { question: "q-take-part" } }, is: "=", right: "no" },
          as: "declined",
          text: [
            line("heading", "Thank you all the same"),
            line("paragraph", "Nothing is kept. You can close this window."),
          ],
        },
      ],
    },
  ),
  page(
    "you",
    "About you",
    [
      {
        kind: "number",
        ...asks("age", "How old are you?"),
        need: "must",
        unit: "years",
        least: 5,
        most: 110,
        decimals: 0,
      },
      oneOf("cooks", "How often do you cook?", [
        "never",
        "less than once a week",
        "once or twice a week",
        "nearly every day",
      ]),
      {
        kind: "several-of",
        ...asks("learned", "Where did you learn to cook?"),
        options: ["at home", "at school", "from books", "from videos"].map((label, index) => ({
          id: `learned-${index}`,
          label,
        })),
        order: "shuffled",
        other: "elsewhere, namely",
      },
      oneOf("gender", "What is your gender?", ["woman", "man"], { other: "in my own words", ratherNot: true }),
    ],
    {
      endings: [
        {
          id: "too-young",
          when: { left: { from: { question: "q-age" } }, is: "<", right: 18 },
          as: "screened-out",
          text: [
            line("heading", "Thank you"),
            line("paragraph", "You cannot take part, because this study is for people of 18 and over."),
          ],
        },
      ],
      back: true,
    },
  ),
  page("expects", "Before the recipes", [
    text(
      "t",
      line("heading", "Four recipes"),
      line("paragraph", "Each recipe stays for 45 seconds at most. You are told ten seconds before it goes."),
    ),
    mark("sure_before", "How much of the recipes will you remember?"),
  ]),
];

const after: Page[] = [
  page(
    "numbers",
    "Numbers in order",
    [
      text(
        "t",
        line("heading", "One minute of order"),
        line("paragraph", "Put these numbers in order, the smallest first. The page goes on by itself after a minute."),
      ),
      {
        kind: "ranking",
        ...asks("sorted", "The smallest first"),
        need: "may",
        options: numbers.map((number) => ({ id: `number-${number}`, label: String(number) })),
        order: "shuffled",
      },
    ],
    { time: { most: 60, warns: 10, countdown: true } },
  ),
  page("expected", "After the recipes", [mark("sure_after", "How much of the recipes do you remember now?")]),
  page("test", "What you remember", [
    text(
      "t",
      line("heading", "What do you remember?"),
      line("paragraph", "If you do not know, choose what seems most likely."),
    ),
    { kind: "set", id: "known", name: "Knowledge test", questions: test, order: "shuffled" },
  ]),
  page("quality", "Two last questions", [
    {
      kind: "scale",
      ...asks("attentive", "To show that you read this, please choose the second point."),
      points: 5,
      from: 1,
      labels: ["never", "rarely", "sometimes", "often", "always"],
      numbers: false,
      reversed: false,
    },
    oneOf("use_data", "Did you take part with care, so that we may use your answers?", ["yes", "no"], { need: "must" }),
  ]),
  page(
    "debriefing",
    "What it was about",
    [
      text(
        "t",
        line("heading", "What it was about"),
        line(
          "paragraph",
          "You read the recipes ",
          { groupValue: "how" },
          "; others read them in two other ways. We ask which way is remembered best.",
        ),
        line("paragraph", "You answered ", { score: "remembered" }, " of the questions as the recipes say. Thank you."),
      ),
    ],
    { continueLabel: "Finish" },
  ),
];

/** The study; `media` are its small pictures, called as the kinds of steps are. */
export function recipesAtTheStove(media: MediaFile[]): StudyDocument {
  const read = recipes.map(readings);
  const node = (part: Page): RunningNode => ({ kind: "part", part: part.id });
  const parts = [...before, ...read.flat().map(({ page: each }) => each), ...after];
  return {
    format: "lapwing-study",
    version: currentVersion,
    title: "Recipes at the stove",
    description:
      "Which way of writing a recipe down is remembered best: all at once, step by step, or with small pictures?",
    language: "en",
    groups,
    groupValues: [
      {
        id: "how",
        name: "how",
        type: "text",
        perGroup: { together: "with all steps at once", stepwise: "step by step", pictured: "with small pictures" },
      },
    ],
    variables: [],
    rules: [],
    pools: [],
    services: [],
    sittings: [],
    scores: [
      {
        id: "remembered",
        name: "remembered",
        of: "share-right",
        from: test.map(({ id }) => ({ question: id })),
        atLeast: 12,
      },
    ],
    runningOrder: [
      ...before.map(node),
      {
        kind: "bracket",
        id: "reading",
        arrange: "shuffled",
        nodes: read.map((variants, index): RunningNode => ({
          kind: "bracket",
          id: `variants-${recipes[index]?.id ?? index}`,
          arrange: "listed",
          nodes: variants.map(({ group, page: each }) => ({ kind: "part", part: each.id, onlyGroups: [group] })),
        })),
      },
      ...after.map(node),
    ],
    parts: Object.fromEntries(parts.map((part) => [part.id, part])),
    media,
    // Who declines, or is too young, takes no place.
    allocation: { ...freshAllocation, after: "you" },
    settings: {
      ...newSettings("7A31"),
      stageColor: "#f4f1e8",
      textColor: "#17211e",
      fullScreen: false,
      progressBar: false,
      participation: {
        ...newParticipation(),
        welcome: "You will read four short recipes and answer questions about them. It takes about twelve minutes.",
        contact: "Kitchen and Memory Laboratory, recipes@market.example",
      },
    },
  };
}
