import { acceptedBy, isEmptyDevice, itemsOfAnswer, possibleInputs, wayToAnswer } from "../devices/device";
import { blocksInOrder, itemsIn } from "../design/lookup";
import { matches, rightAnswer } from "../run/scoring";
import type { Block } from "../design/block";
import type { Check, Finding } from "./finding";
import { rowContexts } from "./row-contexts";

/** Windows that close before they open, answers no one can give, right answers that are not among those taken. */
export const answerProblems: Check = (document) =>
  blocksInOrder(document).flatMap((block): Finding[] => {
    const target = { part: block.id };
    if (block.answers.length === 0)
      return [
        {
          level: "note",
          where: `block “${block.name}”`,
          message: "It takes no answer: its trials only show something.",
          target,
        },
      ];
    return block.answers.flatMap((answer): Finding[] => {
      const where = `block “${block.name}”, answer “${answer.name}”`;
      const [opens, closes] = [answer.opensWith, answer.closesWith].map((id) =>
        block.scenes.findIndex((scene) => scene.id === id),
      ) as [number, number];
      if (opens > closes)
        return [
          {
            level: "error",
            where,
            message: `Its window opens with “${block.scenes[opens]?.name}” but closes with “${block.scenes[closes]?.name}”, which comes earlier. Let it close with the same or a later scene.`,
            target,
          },
        ];
      if (answer.by.every(isEmptyDevice))
        return [
          {
            level: "error",
            where,
            message: wayToAnswer(answer).problem,
            target,
          },
        ];
      const findings: Finding[] = [];
      for (const { item, takes } of itemsOfAnswer(answer)) {
        const index = sceneWith(block, item);
        if (index === -1)
          findings.push({
            level: "error",
            where,
            message: `It is given by ${takes} that is no longer there. Choose another in the margin.`,
            target: { part: block.id },
          });
        else if (index < opens || index > closes)
          findings.push({
            level: "warning",
            where,
            message: `It is given by ${takes} in scene “${block.scenes[index]?.name}”, which the answer window does not cover.`,
            target: { part: block.id },
          });
      }
      if (findings.some(({ level }) => level === "error")) return findings;
      const countsFrom = block.scenes.findIndex(({ id }) => id === answer.countsFrom);
      if (countsFrom > closes)
        findings.push({
          level: "error",
          where,
          message: "Its reaction time counts from a scene that comes after the window. Choose an earlier one.",
          target,
        });
      const wrong = new Map<string, Set<number>>();
      const empty = new Set<number>();
      for (const { number, context } of rowContexts(document, block)) {
        const possible = possibleInputs(answer, context, itemsIn(block));
        if (possible?.some(({ value }) => value === "")) {
          findings.push({
            level: "error",
            where,
            message: "One of its keys has no value in every group. Fill it in under Plan.",
            target,
          });
          return findings;
        }
        if (answer.right === undefined) continue;
        const right = rightAnswer(answer, context);
        if (right === null) empty.add(number);
        else if (
          possible &&
          !possible.some((input) =>
            matches(answer, acceptedBy(answer, input, context) ?? "", String(right), input.device),
          )
        )
          wrong.set(String(right), (wrong.get(String(right)) ?? new Set<number>()).add(number));
      }
      for (const [right, rows] of wrong)
        findings.push({
          level: "error",
          where,
          message: `${rowsInWords([...rows])} ${rows.size === 1 ? "expects" : "expect"} “${right}”, which is not among ${wayToAnswer(answer).all}.`,
          target,
        });
      if (empty.size > 0)
        findings.push({
          level: "warning",
          where,
          message: `${rowsInWords([...empty])} ${empty.size === 1 ? "has" : "have"} no right answer, so these trials are neither right nor wrong.`,
          target,
        });
      if (answer.right === undefined)
        findings.push({
          level: "note",
          where,
          message: "It has no right answer: answers and times are recorded, accuracy is not.",
          target,
        });
      return findings;
    });
  });

const sceneWith = (block: Block, item: string): number =>
  block.scenes.findIndex(({ items }) => items.some(({ id }) => id === item));

/** `Row 3`, `Rows 3 and 5`, `Rows 3–8`, `Rows 1, 4 and 6`. */
export function rowsInWords(numbers: number[]): string {
  const sorted = [...new Set(numbers)].sort((a, b) => a - b);
  const first = sorted[0] as number;
  const last = sorted.at(-1) as number;
  if (sorted.length === 1) return `Row ${first}`;
  if (sorted.length > 2 && last - first === sorted.length - 1) return `Rows ${first}–${last}`;
  return `Rows ${sorted.slice(0, -1).join(", ")} and ${last}`;
}
