/** One exchange with another clock: sent and received by the own clock, answered at a time of the other, in milliseconds. */
export type Exchange = { sent: number; there: number; received: number };

/** How another clock stands to the own one: `there = own + offset + drift × (own − at)`. */
export type ClockRelation = {
  /** The own time the offset is told for. */
  at: number;
  offset: number;
  /** How much faster the other clock goes, as a share (50 ppm is 0.00005). */
  drift: number;
  /** At most so many milliseconds wrong at `at`: half the least round trip, and what the line leaves open. */
  uncertainty: number;
  /** What the uncertainty grows by for each millisecond away from `at`. */
  perMs: number;
};

const roundTrip = ({ sent, received }: Exchange) => received - sent;
const middle = ({ sent, received }: Exchange) => (sent + received) / 2;
const offsetOf = (exchange: Exchange) => exchange.there - middle(exchange);

/** Exchanges of one window of this length are told by the one with the least round trip. */
const windowMs = 2000;
/** Below this length a drift cannot be told from the round trips. */
const leastSpanMs = 6000;
/** What quartz clocks differ by at most, as long as nothing better is known: 200 ppm. */
const assumedDrift = 0.0002;

/**
 * Relates two clocks by exchanges in the order in which they were made (Cristian, 1989: of several the one with the least round
 * trip binds the offset best, to within half of it); drift is the slope of a line through the best one of each window. Null
 * without an exchange.
 */
export function relateClocks(exchanges: readonly Exchange[]): ClockRelation | null {
  const best = new Map<number, Exchange>();
  for (const each of exchanges) {
    const key = Math.floor(each.sent / windowMs);
    const known = best.get(key);
    if (!known || roundTrip(each) < roundTrip(known)) best.set(key, each);
  }
  const points = [...best.values()];
  const least = points.toSorted((a, b) => roundTrip(a) - roundTrip(b))[0];
  if (!least) return null;
  const [first, last] = [points[0] as Exchange, points.at(-1) as Exchange];
  if (points.length < 3 || middle(last) - middle(first) < leastSpanMs)
    return {
      ...{ at: middle(least), offset: offsetOf(least), drift: 0 },
      ...{ uncertainty: roundTrip(least) / 2, perMs: assumedDrift },
    };
  // Exchanges that took long say little: they weigh by the square of their round trip.
  const weights = points.map((each) => 1 / Math.max(roundTrip(each), 0.01) ** 2);
  const total = weights.reduce((sum, weight) => sum + weight, 0);
  const mean = (of: (each: Exchange) => number) =>
    points.reduce((sum, each, index) => sum + of(each) * (weights[index] as number), 0) / total;
  const [at, offset] = [mean(middle), mean(offsetOf)];
  const spread = mean((each) => (middle(each) - at) ** 2);
  const drift = mean((each) => (middle(each) - at) * (offsetOf(each) - offset)) / spread;
  const left = mean((each) => (offsetOf(each) - offset - drift * (middle(each) - at)) ** 2);
  const freedom = points.length - 2;
  return {
    ...{ at, offset, drift },
    uncertainty: roundTrip(least) / 2 + Math.sqrt(left / freedom),
    perMs: Math.sqrt(left / spread / freedom),
  };
}

/** A time of the other clock by the own one, and at most how far off that is, in milliseconds. */
export function ownTime(
  { at, offset, drift, uncertainty, perMs }: ClockRelation,
  there: number,
): { at: number; uncertainty: number } {
  const own = at + (there - at - offset) / (1 + drift);
  return { at: own, uncertainty: uncertainty + perMs * Math.abs(own - at) };
}

/** So much more than a round trip allows is a jump and no drift. */
const leastJumpMs = 1;
const mostKept = 2000;

/** Keeps another clock related to the own one while exchanges come in; where it jumps it begins anew. */
export class ClockTie {
  #exchanges: Exchange[] = [];
  #relation: ClockRelation | null = null;
  /** Own times at which the other clock was seen to have jumped, and by how much. */
  readonly jumps: { at: number; by: number }[] = [];

  add(exchange: Exchange): void {
    const known = this.#relation;
    if (known) {
      const expected = known.offset + known.drift * (middle(exchange) - known.at);
      const off = offsetOf(exchange) - expected;
      const away = Math.abs(middle(exchange) - known.at);
      if (Math.abs(off) > roundTrip(exchange) / 2 + known.uncertainty + known.perMs * away + leastJumpMs) {
        this.jumps.push({ at: middle(exchange), by: off });
        this.#exchanges = [];
      }
    }
    this.#exchanges.push(exchange);
    if (this.#exchanges.length > mostKept) this.#exchanges.splice(0, mostKept / 2);
    this.#relation = relateClocks(this.#exchanges);
  }

  /** How the clocks stand to each other since the last jump; null before the first exchange. */
  get relation(): ClockRelation | null {
    return this.#relation;
  }
}
