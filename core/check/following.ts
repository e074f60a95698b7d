import { adaptiveKind } from "../adaptive/registry";
import { shareAtThreshold } from "../describe/following";
import { blocksInOrder, trialsInBlock } from "../design/lookup";
import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import { columnsOfOrder } from "../order/words";
import type { Column, Follows } from "../values/table";
import type { Check, Finding } from "./finding";

/** Columns that cannot follow the answers, and trials that could never come often enough. */
export const followingProblems: Check = (document) =>
  blocksInOrder(document).flatMap((block) => [
    ...block.table.columns.flatMap((column) =>
      column.follows ? ofColumn(document, block, column, column.follows) : [],
    ),
    ...ofAgain(block),
  ]);

const isJudged = ({ answers }: Block): boolean => answers.some(({ right }) => right !== undefined);

function ofColumn(document: StudyDocument, block: Block, column: Column, { by, each, keeps }: Follows): Finding[] {
  const where = `block “${block.name}”, column “${column.name}”`;
  const found = (level: Finding["level"], message: string): Finding => ({
    level,
    where,
    message,
    target: { part: block.id, column: column.id },
  });
  const findings: Finding[] = [];
  if (column.type !== "number")
    findings.push(found("error", "A value that follows the answers is a number. Let the column hold numbers."));
  if (!isJudged(block))
    findings.push(found("error", "No answer is right or wrong there, so nothing moves it. Say which answer is right."));
  for (const { use } of columnsOfOrder(block.order).filter((one) => one.column === column.id))
    findings.push(found("error", `It is used for ${use}, and orders are drawn before anything is answered.`));
  const share = shareAtThreshold(by);
  if (share <= by.guess + 0.02)
    findings.push(
      found(
        "error",
        `It leads to ${Math.round(share * 100)} % right, which guessing reaches. Ask for more right answers in a row, or another share.`,
      ),
    );
  if (share >= 1 - by.lapse)
    findings.push(found("error", `It leads to ${Math.round(share * 100)} % right, which lapses do not allow.`));
  const levels = levelsOf(block, each);
  const trials = trialsInBlock(block);
  const needed = levels * adaptiveKind(by).fewest(by);
  if (Number.isFinite(needed) && needed > trials)
    findings.push(
      found(
        "warning",
        `It needs at least ${needed} trials${levels > 1 ? ` for ${levels} levels` : ""}, and the block has ${trials}: it ends with the block. Use more copies or passes.`,
      ),
    );
  if (keeps !== undefined) {
    const variable = document.variables.find(({ id }) => id === keeps);
    if (!variable) findings.push(found("error", "The variable that is to hold its threshold has been removed."));
    else if (variable.type !== "number")
      findings.push(found("error", `“${variable.name}” holds no number, so it cannot hold the threshold.`));
    if (each !== undefined)
      findings.push(found("warning", "There is a threshold for each level, so that no variable holds one."));
  }
  return findings;
}

const levelsOf = ({ table }: Block, each: string | undefined): number =>
  each === undefined
    ? 1
    : new Set(table.rows.filter(({ copies }) => copies > 0).map(({ cells }) => String(cells[each] ?? ""))).size;

function ofAgain(block: Block): Finding[] {
  const { again, method } = block.order;
  if (!again) return [];
  const found = (level: Finding["level"], message: string): Finding => ({
    level,
    where: `block “${block.name}”, trials that come again`,
    message,
    target: { part: block.id },
  });
  return [
    ...(isJudged(block)
      ? []
      : [found("error", "No answer is right or wrong there, so that every trial comes again. Say which is right.")]),
    ...(again.most < again.rightTimes
      ? [
          found(
            "error",
            `A trial is shown at most ${again.most} times, so it is never right ${again.rightTimes} times.`,
          ),
        ]
      : []),
    ...(method === "given"
      ? [found("note", "The order is given for each participant; trials that come again are added to it.")]
      : []),
  ];
}
