import type { Block } from "../../design/block";
import { deviceKind, deviceNames } from "../../devices/registry";
import type { AnswerRecord } from "../../records/record";
import { dataColumn, tenth, yesOrNo, type Cell } from "../../values/data-column";
import { columnStem } from "../../values/names";
import { outcomes } from "../../values/tally";
import type { TrialColumn, TrialSource } from "./trial-source";

type AnswerRead = (given: AnswerRecord) => Cell;
type Make = (
  named: (name: string) => string,
  of: (read: AnswerRead) => TrialColumn["read"],
  called: string,
) => TrialColumn[];

/**
 * For each answer what was given, whether it was right, and how fast. Where a block has several answers, all columns
 * begin with the answer's name (`choice_answer`); else they have none, and blocks share them.
 */
export const answerColumns = (blocks: readonly Block[]): TrialColumn[] =>
  eachAnswer(blocks, (named, of, called) => [
    dataColumn(
      named("answer"),
      "text",
      `What the participant answered${called} within the answer window; empty when there was none`,
      of(({ given }) => given?.value ?? null),
    ),
    dataColumn(
      named("is_right"),
      "yes/no",
      `Whether the answer${called} was the right one; empty without an answer or without a right answer`,
      of(({ right }) => (right === null ? null : yesOrNo(right))),
      { values: "yes, no" },
    ),
    dataColumn(
      named("rt_ms"),
      "number",
      `Reaction time${called}: from the onset from which it counts to the input event`,
      of(({ given }) => (given ? tenth(given.rt) : null)),
      { unit: "milliseconds" },
    ),
  ]);

/** How each answer ended, and what is known of it beside the answer: after the columns of the format. */
export function answerFates(blocks: readonly Block[]): TrialColumn[] {
  const answers = blocks.flatMap((block) => block.answers);
  const used = new Set(answers.flatMap(({ by }) => by.map(({ device }) => device)));
  const isRevised = answers.some(({ counts }) => counts === "last");
  const ofDevices = deviceNames.flatMap((name) => (used.has(name) ? (deviceKind(name).columns ?? []) : []));
  const columns = eachAnswer(blocks, (named, of, called) => [
    dataColumn(
      named("outcome"),
      "text",
      `How the answer${called} ended, in one word; “too early” and “too late” are answers outside the window`,
      of(({ outcome }) => outcome),
      { values: outcomes.join(", ") },
    ),
    dataColumn(
      named("early_answers"),
      "whole number",
      `Answers${called} given before the window opened (anticipations)`,
      of(({ early }) => early.length),
    ),
    ...(isRevised
      ? [
          dataColumn(
            named("changes"),
            "whole number",
            `How often the answer${called} was changed, where the last one counts`,
            of(({ revised }) => revised.length),
          ),
        ]
      : []),
    ...ofDevices.map((column): TrialColumn => ({
      ...column,
      name: named(column.name),
      meaning: `The answer${called} ${column.meaning}`,
      read: of(({ given }) => (given ? column.read(given) : null)),
    })),
  ]);
  return columns.length > 0
    ? columns
    : [dataColumn("outcome", "text", "How the trial ended; no answer is taken", () => "none")];
}

/** What devices give as numbers; others give words. */
const ofNumbers: readonly string[] = ["slider", "typed"];
/** The columns of answers that are given as numbers, or can be. */
export const numberedAnswers = (blocks: readonly Block[]): string[] => {
  const isNumbered = (stem: string) =>
    blocks.some(({ answers }) =>
      answers.some(
        ({ name, by }) =>
          (answers.length <= 1 || columnStem(name) === stem) && by.some(({ device }) => ofNumbers.includes(device)),
      ),
    );
  return eachAnswer(blocks, (named, of) => [
    dataColumn(
      named("answer"),
      "text",
      "",
      of(() => null),
    ),
  ])
    .map(({ name }) => name)
    .filter((name) => isNumbered(name.replace(/_answer$/, "")));
};

/** Columns for each of the answers' names, read from the answer of that name in the trial's own block. */
function eachAnswer(blocks: readonly Block[], make: Make): TrialColumn[] {
  if (blocks.every(({ answers }) => answers.length === 0)) return [];
  const from =
    (find: (source: TrialSource) => AnswerRecord | undefined) => (read: AnswerRead) => (source: TrialSource) => {
      const found = find(source);
      return found ? read(found) : null;
    };
  if (blocks.every(({ answers }) => answers.length <= 1))
    return make(
      (name) => name,
      from(({ record }) => record.answers[0]),
      "",
    );
  const stems = new Map(blocks.flatMap(({ answers }) => answers.map(({ name }) => [columnStem(name), name] as const)));
  return [...stems].flatMap(([stem, name]) => {
    const ofThatName = from(({ block, record }) => {
      const spec = block.answers.find((each) => columnStem(each.name) === stem);
      return record.answers.find(({ answer }) => answer === spec?.id);
    });
    return make((column) => `${stem}_${column}`, ofThatName, ` “${name}”`);
  });
}
