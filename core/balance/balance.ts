import { poolCounters } from "./pools";
import { plannedAssignment } from "../allocate/allocate";
import { cellKey, assignmentTo, schemeOf } from "../allocate/scheme";
import type { Plan } from "../compile/compile";
import { compilePlanned } from "../compile/planned";
import { blockOf, blocksInOrder, partOf } from "../design/lookup";
import type { Block } from "../design/block";
import type { Id } from "../values/ref";
import type { RunningNode } from "../design/running-order";
import type { StudyDocument } from "../design/document";
import { sittingCount } from "../order/sittings";
import { bracketsIn, partsFor, type PlacedPart } from "../order/parts";
import type { Balance, BlockBalance, BracketBalance, CellBalance, FactorBalance } from "./counts";
import { followersInShuffle, isByChanceAlone } from "./by-chance";
import { positionsSentence, cellsSentence, rowsSentence, transitionsSentence } from "./sentences";

const mostBins = 10;

/** Draws these participants, as planned when no one drops out, and counts what the design is meant to balance. */
export function balanceOf(
  document: StudyDocument,
  participants: readonly number[],
  told: (share: number) => void = () => undefined,
): Balance {
  const cells = emptyCells(document);
  const brackets = bracketsIn(document.runningOrder).map((node) => bracketCounter(document, node));
  const blocks = blocksInOrder(document).map((block) => blockCounter(document, block));
  const pools = poolCounters(document);
  participants.forEach((participant, index) => {
    const assignment = plannedAssignment(document, participant);
    const cell = cells.get(cellKey(assignment));
    if (cell) cell.planned++;
    const parts = partsFor(document, { ...assignment, participant, sitting: null });
    for (const bracket of brackets) bracket.add(parts);
    for (let sitting = 1; sitting <= sittingCount(document); sitting++) {
      const plan = compilePlanned(document, participant, sitting);
      for (const counter of [...blocks, ...pools]) counter.add(plan);
    }
    told((index + 1) / participants.length);
  });
  const list = [...cells.values()];
  return {
    from: participants[0] ?? 1,
    participants: participants.length,
    cells: list,
    cellsSentence: cellsSentence(list, document),
    brackets: brackets.map(({ result }) => result()),
    blocks: blocks.map(({ result }) => result()),
    pools: pools.map(({ result }) => result()),
  };
}

/** Cells and brackets alone, which needs no trials to be drawn: quick enough to follow every edit. */
export function spreadOf(
  document: StudyDocument,
  participants: readonly number[],
): Pick<Balance, "cells" | "brackets"> {
  const cells = emptyCells(document);
  const brackets = bracketsIn(document.runningOrder).map((node) => bracketCounter(document, node));
  for (const participant of participants) {
    const assignment = plannedAssignment(document, participant);
    const cell = cells.get(cellKey(assignment));
    if (cell) cell.planned++;
    const parts = partsFor(document, { ...assignment, participant, sitting: null });
    for (const bracket of brackets) bracket.add(parts);
  }
  return { cells: [...cells.values()], brackets: brackets.map(({ result }) => result()) };
}

/** More cells than these are not listed one by one. */
const mostListed = 500;

/** The cells of group and orders a study fills, in their order, none of them filled; so many of each group at most. */
export function emptyCells(document: StudyDocument): Map<string, CellBalance> {
  const cells = new Map<string, CellBalance>();
  for (const scheme of schemeOf(document))
    for (let cell = 0; cell < Math.min(scheme.cells, mostListed); cell++) {
      const assignment = assignmentTo(scheme, cell);
      const group = document.groups.find(({ id }) => id === scheme.group)?.name ?? "";
      const orders = scheme.things.map(({ id, name }) => `${name} ${(assignment.orders[id] ?? 0) + 1}`).join(", ");
      cells.set(cellKey(assignment), { key: cellKey(assignment), group, orders, planned: 0 });
    }
  return cells;
}

type Bracket = Extract<RunningNode, { kind: "bracket" }>;

/** The name of what stands in a bracket: a part's, or those of the parts within. */
const nodeName = (document: StudyDocument, node: RunningNode): string =>
  node.kind === "part"
    ? (document.parts[node.part]?.name ?? "")
    : node.nodes.map((each) => nodeName(document, each)).join(" + ");

/** Which child of a bracket each part is in. */
function childOf(bracket: Bracket): Map<Id, number> {
  const children = new Map<Id, number>();
  const mark = (node: RunningNode, child: number): void =>
    node.kind === "part" ? void children.set(node.part, child) : node.nodes.forEach((each) => mark(each, child));
  bracket.nodes.forEach(mark);
  return children;
}

/** The children of a bracket in the order one plan has them. */
export function orderIn(parts: readonly Pick<PlacedPart, "part" | "brackets">[], bracket: Bracket): number[] {
  const children = childOf(bracket);
  const order: number[] = [];
  for (const { part, brackets } of parts) {
    const child = brackets.includes(bracket.id) ? children.get(part) : undefined;
    if (child !== undefined && !order.includes(child)) order.push(child);
  }
  return order;
}

function bracketCounter(document: StudyDocument, bracket: Bracket) {
  const size = bracket.nodes.length;
  const square = () => Array.from({ length: size }, () => new Array<number>(size).fill(0));
  const [at, after] = [square(), square()];
  let seen = 0;
  return {
    add: (parts: readonly Pick<PlacedPart, "part" | "brackets">[]) => {
      const order = orderIn(parts, bracket);
      if (order.length > 0) seen++;
      order.forEach((child, index) => {
        count(at, child, index);
        const before = order[index - 1];
        if (before !== undefined) count(after, before, child);
      });
    },
    result: (): BracketBalance => ({
      bracket: bracket.id,
      arrange: bracket.arrange,
      things: bracket.nodes.map((node) => nodeName(document, node)),
      at,
      after,
      participants: seen,
      sentence: positionsSentence(at, after, bracket.take ?? size),
    }),
  };
}

function blockCounter(document: StudyDocument, block: Block) {
  const numbers = new Map(block.table.rows.map((row, index) => [row.id, index]));
  let perTenth: number[][] = [];
  const uses = new Map<Id, number>();
  const ways: BlockBalance["ways"] = {};
  let [broken, trials, players] = [0, 0, 0];
  const factors = block.table.columns
    .filter(({ factor }) => factor)
    .map((column) => ({
      id: column.id,
      column: column.name,
      levels: [] as string[],
      runs: [] as number[],
      after: [] as number[][],
      expected: [] as number[][],
    }));
  const { copies, positions } = passOf(block);
  const seen = copies.map(() => positions.map(() => 0));
  const playedRows = block.table.rows.filter(({ copies: often }) => often > 0);
  const playedNumbers = new Map(playedRows.map(({ id }, index) => [id, index]));
  const isByChance = isByChanceAlone(block) && positions.length > 1;
  let passes = 0;
  return {
    add: (plan: Plan) => {
      const planned = plan.parts.find(({ part }) => part === block.id);
      if (planned?.kind !== "block") return;
      players++;
      trials = Math.max(trials, planned.trials.length);
      if (perTenth.length === 0) {
        const bins = Math.min(mostBins, planned.trials.length);
        perTenth = block.table.rows.map(() => new Array<number>(bins).fill(0));
      }
      ways[planned.order.way] = (ways[planned.order.way] ?? 0) + 1;
      if (planned.order.breaks.some((each) => each.length > 0)) broken++;
      const bins = perTenth[0]?.length ?? 1;
      planned.trials.forEach(({ row }, index) => {
        const number = numbers.get(row) as number;
        count(perTenth, number, Math.min(bins - 1, Math.floor((index * bins) / planned.trials.length)));
        uses.set(row, (uses.get(row) ?? 0) + 1);
      });
      const inPasses = passesOf(planned.trials);
      passes += inPasses.length;
      if (isByChance)
        for (const trialsOfPass of inPasses)
          for (const [position, { row }] of trialsOfPass.entries())
            count(seen, playedNumbers.get(row) as number, partOfPass(position, trialsOfPass.length, positions.length));
      for (const factor of factors) {
        let [run, before] = [0, -1];
        const levelOf = ({ values }: (typeof planned.trials)[number]) => {
          const level = String(values[factor.id] ?? "");
          const known = factor.levels.indexOf(level);
          if (known >= 0) return known;
          factor.after.push([]);
          factor.expected.push([]);
          return factor.levels.push(level) - 1;
        };
        const ofPasses = inPasses.map((trialsOfPass) => {
          const counts: number[] = [];
          for (const trial of trialsOfPass) {
            const level = levelOf(trial);
            counts[level] = (counts[level] ?? 0) + 1;
          }
          return Array.from({ length: factor.levels.length }, (_, level) => counts[level] ?? 0);
        });
        for (const [pass, counts] of ofPasses.entries()) {
          for (const [a, line] of followersInShuffle(counts).entries())
            for (const [b, mean] of line.entries()) count(factor.expected, a, b, mean);
          const next = ofPasses[pass + 1];
          if (!next) continue;
          // From the last of a pass to the first of the next one.
          const [all, allNext] = [counts, next].map((each) => each.reduce((sum, one) => sum + one, 0)) as [
            number,
            number,
          ];
          for (const [a, own] of counts.entries())
            for (const [b, theirs] of next.entries()) count(factor.expected, a, b, (own * theirs) / (all * allNext));
        }
        for (const trial of planned.trials) {
          const now = levelOf(trial);
          if (before >= 0) count(factor.after, before, now);
          if (now === before) run++;
          else {
            if (run > 0) factor.runs[run - 1] = (factor.runs[run - 1] ?? 0) + 1;
            run = 1;
          }
          before = now;
        }
        if (run > 0) factor.runs[run - 1] = (factor.runs[run - 1] ?? 0) + 1;
      }
    },
    result: (): BlockBalance => {
      const all = block.table.rows.filter(({ copies }) => copies > 0).map(({ id }) => uses.get(id) ?? 0);
      const filled = factors.map(({ column, levels, runs, after, expected }): FactorBalance => ({
        column,
        levels,
        runs: Array.from({ length: runs.length }, (_, length) => runs[length] ?? 0),
        after: levels.map((_, first) => levels.map((_, second) => after[first]?.[second] ?? 0)),
        expected: levels.map((_, first) => levels.map((_, second) => expected[first]?.[second] ?? 0)),
      }));
      const trialsOfPass = copies.reduce((sum, each) => sum + each, 0);
      const inPass = isByChance
        ? {
            seen,
            expected: copies.map((often) => positions.map((there) => (passes * often * there) / trialsOfPass)),
            replacement: block.order.method === "with-replacement",
            trialsOfPass,
          }
        : null;
      return {
        part: block.id,
        name: partOf(document, block.id).name,
        rows: block.table.rows.length,
        trials,
        perTenth,
        inPass,
        uses: { least: Math.min(...all, Infinity), most: Math.max(...all, 0) },
        factors: filled,
        ways,
        isLimited: block.order.limits.length > 0,
        broken,
        sentences: [
          ...rowsSentence(blockOf(document, block.id), uses, perTenth, inPass, players),
          ...filled.flatMap((factor) => transitionsSentence(factor)),
        ],
      };
    },
  };
}

function count(table: number[][], first: number, second: number, by = 1): void {
  const line = (table[first] ??= []);
  line[second] = (line[second] ?? 0) + by;
}

const partOfPass = (position: number, trials: number, parts: number) => Math.floor((position * parts) / trials);

/** The copies of the rows that are played, and how many positions of a pass fall into each of its parts. */
function passOf({ table }: Block): { copies: number[]; positions: number[] } {
  const copies = table.rows.flatMap((row) => (row.copies > 0 ? [row.copies] : []));
  const trials = copies.reduce((sum, each) => sum + each, 0);
  const positions = new Array<number>(Math.min(mostBins, trials)).fill(0);
  for (let position = 0; position < trials; position++) {
    const part = partOfPass(position, trials, positions.length);
    positions[part] = (positions[part] ?? 0) + 1;
  }
  return { copies, positions };
}

/** The trials of a block pass by pass. */
function passesOf<Trial extends { pass: number }>(trials: readonly Trial[]): Trial[][] {
  const passes: Trial[][] = [];
  for (const trial of trials) (passes[trial.pass - 1] ??= []).push(trial);
  return passes.filter((each) => each.length > 0);
}
