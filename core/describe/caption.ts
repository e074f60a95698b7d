import type { AnswerSpec } from "../design/answer";
import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import { isBinding } from "../values/ref";
import type { Context } from "../values/context";
import { answerInWords, conditionInWords, durationInWords, refName } from "./words";

const listed = (words: string[]): string =>
  words.length < 2 ? words.join("") : `${words.slice(0, -1).join(", ")} and ${words.at(-1)}`;

/**
 * The caption of Figure 1 for a paper: what is shown in which order and for how long, when and how answers are taken,
 * from when the time counts and which answer is right, all from the design.
 */
export function figureCaption(document: StudyDocument, block: Block, context: Context): string {
  const scenes = block.scenes.map((scene) => {
    const lasts = durationInWords(scene.lasts, document, block)
      .replace(", drawn", " (drawn at random in each trial)")
      .replace(/^until answer, at most/, "until the answer, for at most")
      .replace(/^until answer$/, "until the answer");
    const time = /^until/.test(lasts) ? lasts : `for ${lasts}`;
    return `${scene.name} ${time}${scene.when ? `, if ${conditionInWords(scene.when, document, block)}` : ""}`;
  });
  const sentences = [
    `A trial of ${block.name}.`,
    scenes.length > 0 ? `It shows ${listed(scenes)}.` : "It shows nothing yet.",
    ...block.answers.map((answer) => answerSentence(document, block, answer, context)),
  ];
  return sentences.join(" ");
}

function answerSentence(document: StudyDocument, block: Block, answer: AnswerSpec, context: Context): string {
  const name = (id: string | undefined) => block.scenes.find((scene) => scene.id === id)?.name ?? "?";
  const called = block.answers.length > 1 ? `The answer “${answer.name}”` : "The answer";
  const window =
    answer.opensWith === answer.closesWith
      ? `during ${name(answer.opensWith)}`
      : `from the onset of ${name(answer.opensWith)} until the end of ${name(answer.closesWith)}`;
  const from = name(answer.countsFrom ?? answer.opensWith);
  const right =
    answer.right === undefined
      ? ""
      : isBinding(answer.right)
        ? `; it is right when it equals ${refName(answer.right.from, document, block) ?? "a column that is gone"}`
        : `; the right one is ${String(answer.right)}`;
  const counts = answer.counts === "last" ? "; the last one counts" : "";
  return `${called} (${answerInWords(answer, block, context)}) is taken ${window}, its reaction time counted from the onset of ${from}${right}${counts}.`;
}
