import { isFilled } from "../values/table";
import { orderable } from "../order/orderable";
import { blocksInOrder, trialsInBlock } from "../design/lookup";
import type { Block } from "../design/block";
import type { Id } from "../values/ref";
import type { StudyDocument } from "../design/document";
import { blockOrder, problemOfBlock, subBlockValues } from "../order/block-order";
import { feasibility } from "../order/feasible";
import { columnsOfOrder, limitInWords, namesIn } from "../order/words";
import type { Check, Finding } from "./finding";

/** So many participants' draws are judged where each plays other rows. */
const participantsTried = 6;

/** Whether every block has an order as it is asked for. */
export const orderProblems: Check = (document) =>
  blocksInOrder(document).flatMap((block) => {
    const where = `block “${block.name}”, order of trials`;
    const target = { part: block.id };
    const found = (level: Finding["level"], message: string): Finding => ({ level, where, message, target });
    const { order, table } = block;
    const columns = new Set(table.columns.map(({ id }) => id));
    const gone = columnsOfOrder(order).some(({ column }) => !columns.has(column));
    if (gone)
      return [
        found(
          "error",
          "A limit, or what is kept together or taken evenly, names a column that the table no longer has. Choose another one.",
        ),
      ];
    if (trialsInBlock(block) === 0) return [];
    return [
      ...givenProblems(block, found),
      ...takeProblems(document, block, found),
      ...limitProblems(document, block, found),
    ];
  });

type Found = (level: Finding["level"], message: string) => Finding;

function givenProblems({ order, table }: Block, found: Found): Finding[] {
  if (order.method !== "given") return [];
  const sequences = order.given?.sequences ?? [];
  if (sequences.length === 0)
    return [found("error", "The order is given, but no sequences are. Choose a file with them, or another order.")];
  const rows = new Set(table.rows.map(({ id }) => id));
  const findings: Finding[] = [];
  const lost = sequences.filter((each) => each.rows.some((id) => !rows.has(id)));
  if (lost.length > 0)
    findings.push(
      found(
        "error",
        `${lost.length === 1 ? "A given sequence names a row" : `${lost.length} given sequences name rows`} that the table no longer has. Choose the file again.`,
      ),
    );
  const lengths = [...new Set(sequences.map((each) => each.rows.length))].sort((a, b) => a - b);
  if (lengths.length > 1)
    findings.push(
      found("warning", `The given sequences are of different lengths, from ${lengths[0]} to ${lengths.at(-1)} trials.`),
    );
  const numbered = sequences.filter(({ participant }) => participant !== null);
  if (numbered.length > 0 && numbered.length === sequences.length)
    findings.push(
      found(
        "note",
        `There are sequences for ${numbered.length} participants. Those with other numbers get them again from the first on.`,
      ),
    );
  return findings;
}

function takeProblems(document: StudyDocument, block: Block, found: Found): Finding[] {
  const { order, table } = block;
  if (order.within === undefined || order.subBlocks !== "latin-square") return [];
  const within = table.columns.find(({ id }) => id === order.within);
  const filled = within && isFilled(within);
  if (filled && document.groups.length > 1)
    return [
      found(
        "error",
        "Sub-blocks of a filled column cannot be in a Latin square, since they may differ by group. Choose a typed column.",
      ),
    ];
  const values = subBlockValues(order, table.rows, (row, column) => row.cells[column] ?? null);
  return values.length < 2
    ? [found("warning", "All rows have the same value there, so there is only one sub-block.")]
    : [];
}

function limitProblems(document: StudyDocument, block: Block, found: Found): Finding[] {
  const { order } = block;
  if (order.limits.length === 0) return [];
  const names = namesIn(block.table.columns);
  const isTaken = order.take !== undefined || order.subBlocks === "shuffled" || order.within !== undefined;
  const findings: Finding[] = [];
  for (const group of groupsThatDiffer(document, block))
    for (let participant = 1; participant <= (isTaken ? participantsTried : 1); participant++) {
      const draw = { seed: document.settings.seed, participant, block: block.id };
      const asked = orderable(document, block, group.id);
      const whose = `${group.name}${isTaken ? `Participant ${participant}: ` : ""}`;
      const problem = problemOfBlock(asked, draw, participant);
      if (!problem) {
        const { breaks } = blockOrder(asked, draw, participant);
        breaks.forEach((broken, index) => {
          const limit = order.limits[index];
          if (limit && broken.length > 0)
            findings.push(
              found(
                "warning",
                `${whose}The ${order.method === "given" ? "given" : "listed"} order does not have ${limitInWords(limit, block)}, from trial ${(broken[0] ?? 0) + 1} of the block on.`,
              ),
            );
        });
        continue;
      }
      const judged = feasibility(problem, names, [document.settings.seed, block.id, participant]);
      if (judged.is === "impossible")
        findings.push(...judged.reasons.map((reason) => found("error", `${whose}${reason}`)));
      if (judged.is === "not-found") {
        const broken = judged.breaks.map(({ limit, positions }) => {
          const each = order.limits[limit];
          return `“${each ? limitInWords(each, block) : ""}” at ${positions.length} ${positions.length === 1 ? "trial" : "trials"}`;
        });
        findings.push(
          found(
            "error",
            `${whose}No order with these limits was found, which does not prove that there is none. The closest one breaks ${broken.join(" and ")}. Loosen a limit.`,
          ),
        );
      }
    }
  return [...new Map(findings.map((each) => [each.message, each])).values()];
}

/** The groups whose rows can differ, by columns that are filled from group values; one for all where none are. */
function groupsThatDiffer({ groups }: StudyDocument, { table }: Block): { id: Id; name: string }[] {
  const differs = groups.length > 1 && table.columns.some(({ cases }) => cases);
  return differs
    ? groups.map(({ id, name }) => ({ id, name: `Group “${name}”: ` }))
    : groups.slice(0, 1).map(({ id }) => ({ id, name: "" }));
}
