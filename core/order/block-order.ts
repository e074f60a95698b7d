import type { Id, Scalar } from "../values/ref";
import type { Limit } from "../limits/registry";
import type { Row } from "../values/table";
import type { TrialOrder } from "../design/trial-order";
import { breaksIn, drawOrder, problemKey, type Drawn, type Way } from "./draw/draw";
import { problemOf, type Problem, type Stretch } from "./draw/problem";
import { keepLast } from "../random/keep-last";
import { streamFor } from "../random/stream";
import { shuffled } from "../random/shuffle";
import { latinSquareRow } from "../arrangements/squares";
import { takeEvenly } from "../random/take";

/** Whose order is drawn: the keys of its streams of random numbers. */
export type Draw = { seed: string; participant: number; block: Id };
/** What of a block decides its order. */
export type Orderable = {
  order: TrialOrder;
  rows: readonly Row[];
  /** A row's value in a column, filled columns worked out. */
  valueOf: (row: Row, column: Id) => Scalar | null;
  nameOf: (column: Id) => string;
};

export type OrderedTrial = {
  pass: number;
  row: Row;
  /** The value its sub-block has, null without sub-blocks. */ subBlock: string | null;
};
export type BlockOrder = {
  trials: OrderedTrial[];
  /** `listed` and `given` are not drawn; a plain shuffle is exact. */
  way: Way | "listed" | "given";
  /** For each limit of the block the indices, from 0, of the trials that break it. */
  breaks: number[][];
};

/**
 * The trials of a block in the order in which one participant plays them. Pure: the same block, seed, participant and
 * row of the Latin square of sub-blocks give the same order on any machine.
 */
export function blockOrder(block: Orderable, draw: Draw, squareRow: number): BlockOrder {
  const { order } = block;
  const stretches = stretchesOf(block, draw, squareRow);
  const rowsOf = ({ rows }: Stretch) => rows.map((row) => block.rows[row] as Row);
  const trials = (rowsIn: (stretch: PlacedStretch, index: number) => Row[]): OrderedTrial[] =>
    stretches.flatMap((stretch, index) =>
      rowsIn(stretch, index).map((row) => ({ pass: stretch.pass, row, subBlock: stretch.subBlock })),
    );
  const judged = (trials: OrderedTrial[], way: BlockOrder["way"]): BlockOrder => {
    if (order.limits.length === 0) return { trials, way, breaks: [] };
    const positions = new Map(block.rows.map(({ id }, index) => [id, index]));
    const rows = trials.map(({ row }) => positions.get(row.id) as number);
    return { trials, way, breaks: breaksIn(problemFor(block, listedStretch(rows), order.limits), rows) };
  };
  if (order.method === "given") return judged(givenTrials(order, block.rows, draw.participant), "given");
  if (order.method === "as-listed") return judged(trials(rowsOf), "listed");
  if (order.limits.length === 0)
    return {
      trials: trials((stretch, index) => {
        const stream = streamFor(...streamKey(draw, stretch.pass), "order", ...stretch.key);
        if (order.method === "shuffled") return shuffled(rowsOf(stretch), stream);
        const rows = rowsOf(stretch);
        return Array.from(
          { length: stretches[index]?.draws ?? 0 },
          () => rows[stream.whole(0, rows.length - 1)] as Row,
        );
      }),
      way: "exact",
      breaks: [],
    };
  const problem = problemFor(block, stretches, order.limits);
  const key = [draw.seed, draw.participant, draw.block, "limited order"];
  // What is typed into the table rarely touches what limits look at: then the order that was drawn stands.
  const { rows, way } = drawnBefore(`${key.join("\u001f")} ${problemKey(problem)}`, () =>
    drawOrder(problem, streamFor(...key)),
  );
  let at = 0;
  const drawn = stretches.flatMap(({ pass, subBlock, draws }) => {
    at += draws;
    return rows.slice(at - draws, at).map((row) => ({ pass, row: block.rows[row] as Row, subBlock }));
  });
  return {
    trials: drawn,
    way,
    breaks: way === "exact" || way === "sampled" ? order.limits.map(() => []) : breaksIn(problem, rows),
  };
}

/** The problem that a participant's draw has to solve, for checks and counts; null where nothing is drawn or limited. */
export function problemOfBlock(block: Orderable, draw: Draw, squareRow: number): Problem | null {
  const { method, limits } = block.order;
  if (limits.length === 0 || method === "as-listed" || method === "given") return null;
  return problemFor(block, stretchesOf(block, draw, squareRow), limits);
}

const drawnBefore = keepLast<Drawn>(64);

type PlacedStretch = Stretch & { pass: number; subBlock: string | null; key: (string | number)[] };
const streamKey = ({ seed, participant, block }: Draw, pass: number) => [seed, participant, block, pass] as const;

function problemFor(block: Orderable, stretches: Stretch[], limits: readonly Limit[]): Problem {
  const text = new Map<string, string>();
  return problemOf(
    stretches,
    block.order.method === "with-replacement",
    limits,
    (row, column) => {
      const key = `${row} ${column}`;
      const known = text.get(key) ?? String(block.valueOf(block.rows[row] as Row, column) ?? "");
      text.set(key, known);
      return known;
    },
    block.nameOf,
  );
}
const listedStretch = (rows: number[]): Stretch[] => [{ rows, draws: rows.length }];

/** Passes, and in each its sub-blocks in their order; of each the rows it plays, in the table's order. */
function stretchesOf({ order, rows, valueOf }: Orderable, draw: Draw, squareRow: number): PlacedStretch[] {
  const all = rows.flatMap(({ copies }, index) => Array.from({ length: copies }, () => index));
  const isReplaced = order.method === "with-replacement";
  return Array.from({ length: order.passes }, (_, index) => index + 1).flatMap((pass): PlacedStretch[] => {
    const taken = isReplaced ? all : takenIn(order, rows, all, valueOf, draw, pass);
    const { within } = order;
    if (within === undefined || isReplaced)
      return [
        {
          rows: taken,
          draws: isReplaced && all.length > 0 ? (order.take ?? all.length) : taken.length,
          pass,
          subBlock: null,
          key: [],
        },
      ];
    const bySubBlock = new Map<string, number[]>();
    for (const row of taken) {
      const value = String(valueOf(rows[row] as Row, within) ?? "");
      pushTo(bySubBlock, value, row);
    }
    const listed = [...bySubBlock.keys()];
    const arranged = (): string[] => {
      switch (order.subBlocks ?? "shuffled") {
        case "listed":
          return listed;
        case "shuffled":
          return shuffled(listed, streamFor(...streamKey(draw, pass), "sub-blocks"));
        case "latin-square": {
          // The square is that of the whole table, so that taking fewer rows leaves the others where they are.
          const values = subBlockValues(order, rows, valueOf);
          return latinSquareRow(values.length, squareRow + pass - 1)
            .map((position) => values[position] as string)
            .filter((value) => bySubBlock.has(value));
        }
      }
    };
    return arranged().map((value) => {
      const own = bySubBlock.get(value) as number[];
      return { rows: own, draws: own.length, pass, subBlock: value, key: [value] };
    });
  });
}

function pushTo(lists: Map<string, number[]>, key: string, value: number): void {
  const list = lists.get(key);
  if (list) list.push(value);
  else lists.set(key, [value]);
}

/** The values that make sub-blocks, in the table's order. */
export const subBlockValues = (order: TrialOrder, rows: readonly Row[], valueOf: Orderable["valueOf"]): string[] =>
  order.within === undefined
    ? []
    : [...new Set(rows.flatMap((row) => (row.copies > 0 ? [String(valueOf(row, order.within as Id) ?? "")] : [])))];

/** The trials of a pass as row indices, in the table's order. */
function takenIn(
  { take, takeEach = [], passes }: TrialOrder,
  rows: readonly Row[],
  all: readonly number[],
  valueOf: Orderable["valueOf"],
  { seed, participant, block }: Draw,
  pass: number,
): readonly number[] {
  if (take === undefined || take === all.length) return all;
  const strata = new Map<string, number[]>();
  all.forEach((row, position) => {
    const key = takeEach.map((column) => String(valueOf(rows[row] as Row, column) ?? "")).join("\u001f");
    pushTo(strata, key, position);
  });
  // Passes are turns too, so that a second pass has other trials as long as there are any.
  const turn = (participant - 1) * passes + pass - 1;
  return takeEvenly([...strata.values()], take, turn, [seed, block, "take"])
    .sort((a, b) => a - b)
    .map((index) => all[index] as number);
}

/** The given sequence of a participant, once a pass. Where there is none for the number, the sequences begin anew. */
export function givenTrials(order: TrialOrder, rows: readonly Row[], participant: number): OrderedTrial[] {
  const byId = new Map(rows.map((row) => [row.id, row]));
  const sequences = order.given?.sequences ?? [];
  const own =
    sequences.find((each) => each.participant === participant) ??
    sequences.find((each) => each.participant === null) ??
    sequences[(participant - 1) % Math.max(1, sequences.length)];
  return Array.from({ length: order.passes }, (_, index) =>
    (own?.rows ?? []).flatMap((id) => {
      const row = byId.get(id);
      return row ? [{ pass: index + 1, row, subBlock: null }] : [];
    }),
  ).flat();
}
