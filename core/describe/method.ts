import { shareOf, schemeOf } from "../allocate/scheme";
import { stratumInWords } from "../allocate/strata";
import { openingOf } from "../order/opening";
import { blocksInOrder, partOf, trialsInBlock } from "../design/lookup";
import type { AllocationMethod } from "../design/allocation";
import type { Block } from "../design/block";
import type { RunningNode } from "../design/running-order";
import type { StudyDocument } from "../design/document";
import { arrangementKind } from "../arrangements/registry";
import { bracketsIn } from "../order/parts";
import { limitInWords } from "../order/words";
import type { Criterion } from "../rules/criterion";
import { againInWords, followsInWords } from "./following";
import { drawsIn } from "../pools/tasks";
import { drawsInWords } from "./pools";
import { criterionInWords } from "./rules";
import { inList, inNumbers } from "./in-words";

/** The design as it can stand in a method section: who gets what, the order of the parts, and of each block's trials. */
export function methodInWords(document: StudyDocument): string[] {
  return [
    allocationInWords(document),
    ...bracketsInWords(document),
    ...blocksInOrder(document).map(blockInWords),
    ...poolsInWords(document),
    ...followingInWords(document),
    ...repeatedInWords(document),
  ];
}

const methods: Record<AllocationMethod, string> = {
  "permuted-blocks": "in permuted blocks",
  "least-filled": "each to the group with the fewest participants so far, ties drawn at random",
  "by-number": "by their number",
  "by-parameter": "by their entry link",
  "by-experimenter": "by the experimenter",
};

function allocationInWords(document: StudyDocument): string {
  const { groups, allocation } = document;
  const cells = schemeOf(document).reduce((sum, scheme) => sum + scheme.cells, 0);
  if (cells === 1) return "All participants were in the same group and had the same order of parts.";
  const shares = groups.map(shareOf);
  const ratio = new Set(shares).size > 1 ? ` in the ratio ${shares.join(" : ")}` : "";
  const named =
    groups.length > 1
      ? ` to ${inNumbers(groups.length)} groups (${groups.map(({ name }) => name).join(", ")})${ratio}`
      : "";
  const perGroup = new Set(schemeOf(document).map((scheme) => scheme.cells));
  const orders = [...perGroup][0] ?? 1;
  const spread =
    cells > groups.length
      ? perGroup.size === 1
        ? groups.length > 1
          ? `, ${inNumbers(orders)} orders within each, so that ${inNumbers(cells)} combinations of group and order were filled evenly`
          : ` to ${inNumbers(orders)} orders, which were filled evenly`
        : `, so that ${inNumbers(cells)} combinations of group and order were filled evenly`
      : "";
  const by =
    allocation.method === "permuted-blocks" && allocation.blockSizes.length > 1
      ? "in permuted blocks of varying length"
      : methods[allocation.method];
  const strata =
    allocation.strata.length > 0
      ? `, separately for each ${allocation.strata.map((each) => stratumInWords(document, each)).join(" and ")}`
      : "";
  const opening = openingOf(document).map(({ part }) => `“${partOf(document, part).name}”`);
  const when =
    opening.length > 0
      ? ` This was done after ${inList(opening)}; those who declined or were screened out there were not allocated.`
      : "";
  return `Participants were allocated${named}${spread}, ${by}${strata}.${when}`;
}

const bracketsInWords = (document: StudyDocument): string[] =>
  bracketsIn(document.runningOrder).flatMap(({ arrange, nodes, take }) => {
    if (nodes.length < 2) return [];
    const names = nodes.map((node) => `“${nodeName(document, node)}”`);
    const { length } = nodes;
    return [
      `The parts ${inList(names)} came ${arrangementKind(arrange).inWords(length, Math.min(length, take ?? length))}.`,
    ];
  });

const nodeName = (document: StudyDocument, node: RunningNode): string =>
  node.kind === "part"
    ? partOf(document, node.part).name
    : node.nodes.map((each) => nodeName(document, each)).join(", ");

const poolsInWords = (document: StudyDocument): string[] =>
  blocksInOrder(document).flatMap((block) =>
    drawsIn(block).map(({ column, own }) => drawsInWords(document, block, column, own)),
  );

/** Values that followed the answers, and trials that came again. */
const followingInWords = (document: StudyDocument): string[] =>
  blocksInOrder(document).flatMap((block) => [
    ...block.table.columns.flatMap((column) =>
      column.follows ? [`In “${block.name}”, ${followsInWords(column, column.follows, block)}`] : [],
    ),
    ...(block.order.again ? [`In “${block.name}”, ${againInWords(block.order.again)}.`] : []),
  ]);

/** What was repeated until good enough, and how often. */
function repeatedInWords(document: StudyDocument): string[] {
  const said = (what: string, criterion: Criterion, block: Block | null) => {
    const when = criterion.looked === "every-trial" ? "as soon as" : "once";
    const again = criterion.attempts - 1;
    const then =
      again === 0
        ? ""
        : `; otherwise it was repeated in a new order, at most ${again === 1 ? "once" : `${inNumbers(again)} times`}`;
    const last = criterion.otherwise === "end" ? ", after which the session ended" : "";
    return `${what} ended ${when} ${criterionInWords(criterion, { document, block }).replace(/ are right/, " were right")}${then}${last}.`;
  };
  return [
    ...blocksInOrder(document).flatMap((block) =>
      block.criterion ? [said(`“${block.name}”`, block.criterion, block)] : [],
    ),
    ...bracketsIn(document.runningOrder).flatMap(({ until, nodes }) =>
      until
        ? [said(`The parts ${inList(nodes.map((node) => `“${nodeName(document, node)}”`))} together`, until, null)]
        : [],
    ),
  ];
}

function blockInWords(block: Block): string {
  const { order, table } = block;
  const trials = trialsInBlock(block);
  const columnName = (id: string) => table.columns.find((column) => column.id === id)?.name ?? "";
  const all = table.rows.reduce((sum, { copies }) => sum + copies, 0);
  const passes = order.passes > 1 ? `, in ${inNumbers(order.passes)} passes` : "";
  const begin = `“${block.name}” had ${trials.toLocaleString("en")} ${trials === 1 ? "trial" : "trials"}${passes}${block.practice ? " of practice" : ""}.`;
  const limits = order.limits.map((limit) => limitInWords(limit, block));
  const each = order.takeEach?.length ? `, each ${order.takeEach.map(columnName).join(" and ")} in its proportion` : "";
  const taken =
    order.take !== undefined && order.take !== all && order.method !== "given" && order.method !== "with-replacement"
      ? order.take < all
        ? ` Each pass took ${order.take} of ${all} trials, all equally often over participants${each}.`
        : ` Each pass repeated the ${all} trials evenly to ${order.take}, the remainder drawn${each}.`
      : "";
  const together =
    order.within !== undefined && order.method !== "given" && order.method !== "with-replacement"
      ? ` Trials with the same ${columnName(order.within)} came together, as sub-blocks ${{ listed: "in the order of the table", shuffled: "in an order drawn anew for each participant", "latin-square": "in an order from a Latin square" }[order.subBlocks ?? "shuffled"]}.`
      : "";
  const from = limits.length > 0 ? ` from all orders with ${inList(limits)}` : "";
  switch (order.method) {
    case "as-listed":
      return `${begin}${taken} They came in the same order for everyone.`;
    case "given":
      return `${begin} Their order was given beforehand${(order.given?.sequences.length ?? 0) > 1 ? " for each participant" : ", the same for everyone"}.`;
    case "with-replacement":
      return `${begin} Each was drawn with replacement, anew for each participant${from}.`;
    case "shuffled":
      return `${begin}${taken}${together} Trial order was drawn anew for each participant${from || ", every order equally likely"}.`;
  }
}
