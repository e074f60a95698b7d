import { object } from "../shape/compound";
import { oneOf, only } from "../shape/plain";
import type { Of } from "../shape/shape";
import { limitedColumns } from "./columns";
import { mostMemory, type Classed, type LimitKindOf } from "./kind";

const shape = object({
  kind: only("balanced-transitions"),
  columns: limitedColumns,
  /** How often a value follows itself. */
  itself: oneOf("as-often", "never"),
});
type Balanced = Of<typeof shape>;

/** Each value follows each other one as often as the counts allow: every number of transitions is its share, rounded down or up. */
export const balancedTransitions: LimitKindOf<Balanced> = {
  shape,
  holdsWithin: false,
  columns: ({ columns }) => columns,
  inWords: ({ columns, itself }, names) =>
    `each ${names.of(columns)} following each other equally often${itself === "never" ? " and never itself" : ", itself as often"}`,
  bind: (limit, classed) => {
    const { classOf, labels } = classed;
    const size = labels.length;
    const { least, most } = bounds(limit, classed);
    const table = new Int32Array(size * size);
    let cost = 0;
    const off = (cell: number) =>
      Math.max(0, (table[cell] as number) - (most[cell] as number), (least[cell] as number) - (table[cell] as number));
    const change = (kinds: Int32Array, at: number, by: number) => {
      if (at <= 0 || at >= kinds.length) return;
      const cell = (classOf[kinds[at - 1] as number] as number) * size + (classOf[kinds[at] as number] as number);
      cost -= off(cell);
      table[cell] = (table[cell] as number) + by;
      cost += off(cell);
    };
    // The whole table and the last class, in mixed radix: possible for short blocks only.
    const states = most.reduce((product, each) => product * (each + 1), size + 1);
    return {
      reach: 1,
      broken: () => 0,
      transitions: {
        reset: (kinds) => {
          table.fill(0);
          cost = least.reduce((sum, _, cell) => sum + off(cell), 0);
          for (let at = 1; at < kinds.length; at++) change(kinds, at, 1);
        },
        remove: (kinds, at) => change(kinds, at, -1),
        add: (kinds, at) => change(kinds, at, 1),
        cost: () => cost,
      },
      memory: !(states <= mostMemory)
        ? null
        : {
            size: states,
            start: 0,
            step: (memory, kind) => {
              const now = classOf[kind] as number;
              const before = (memory % (size + 1)) - 1;
              let cells = Math.floor(memory / (size + 1));
              if (before >= 0) {
                let weight = 1;
                const wanted = before * size + now;
                for (let cell = 0; cell < wanted; cell++) weight *= (most[cell] as number) + 1;
                const radix = (most[wanted] as number) + 1;
                if ((Math.floor(cells / weight) % radix) + 1 >= radix) return -1;
                cells += weight;
              }
              return cells * (size + 1) + now + 1;
            },
            mayEnd: (memory) => {
              let cells = Math.floor(memory / (size + 1));
              return least.every((low, cell) => {
                const radix = (most[cell] as number) + 1;
                const here = cells % radix;
                cells = Math.floor(cells / radix);
                return here >= low;
              });
            },
          },
    };
  },
  contradiction: ({ itself }, { counts, labels, subject, total }) => {
    const found = counts.findIndex((count) => Number.isFinite(count) && count > Math.ceil(total / 2));
    return itself === "never" && found >= 0
      ? `${counts[found]} of ${total} trials have ${subject} “${labels[found]}”: never directly after itself it can stand at most ${Math.ceil(total / 2)} times.`
      : null;
  },
};

/**
 * The least and most of each transition. Its share is that of a random order with the same counts, without those onto
 * itself where they are not allowed; the latter by iterative proportional fitting (Deming and Stephan, 1940).
 */
function bounds({ itself }: Balanced, { counts, labels, total }: Classed): { least: number[]; most: number[] } {
  const size = labels.length;
  const shares = counts.map((count) => (Number.isFinite(count) ? count / total : 1 / size));
  let cells = Array.from({ length: size * size }, (_, cell) => {
    const [from, to] = [Math.floor(cell / size), cell % size];
    return itself === "never" && from === to ? 0 : (shares[from] as number) * (shares[to] as number) * (total - 1);
  });
  if (itself === "never")
    for (let round = 0; round < 100; round++) {
      for (const byRow of [true, false]) {
        const sums = new Array<number>(size).fill(0);
        const line = (cell: number) => (byRow ? Math.floor(cell / size) : cell % size);
        cells.forEach((value, cell) => (sums[line(cell)] = (sums[line(cell)] as number) + value));
        cells = cells.map((value, cell) => {
          const sum = sums[line(cell)] as number;
          return sum === 0 ? 0 : (value * (shares[line(cell)] as number) * (total - 1)) / sum;
        });
      }
    }
  // A value in more than half of the trials cannot be fitted exactly; its neighbours get one more to and fro.
  const slack = itself === "never" && shares.some((share) => share > 0.5) ? 1 : 0;
  return {
    least: cells.map((value) => Math.max(0, Math.floor(value + 1e-9) - slack)),
    most: cells.map((value, cell) =>
      itself === "never" && Math.floor(cell / size) === cell % size ? 0 : Math.ceil(value - 1e-9) + slack,
    ),
  };
}
