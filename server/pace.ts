import { LRUCache } from "lru-cache";

/** How much may come at once, and how much a second after that. */
export type Pace = { burst: number; perSecond: number };

/** Keeps requests of one sender to a pace (a token bucket); remembers the latest `most` senders. */
export class PaceKeeper {
  readonly #left: LRUCache<string, { tokens: number; at: number }>;

  constructor(
    private readonly pace: Pace,
    most = 20_000,
  ) {
    this.#left = new LRUCache({ max: most });
  }

  /** Whether this sender may proceed now; `now` in milliseconds on any steady clock, `cost` of what it asks. */
  allows(sender: string, now: number, cost = 1): boolean {
    const { burst, perSecond } = this.pace;
    const before = this.#left.get(sender) ?? { tokens: burst, at: now };
    const tokens = Math.min(burst, before.tokens + ((now - before.at) / 1000) * perSecond);
    const isAllowed = tokens >= cost;
    this.#left.set(sender, { tokens: isAllowed ? tokens - cost : tokens, at: now });
    return isAllowed;
  }

  /** What was asked turned out to cost nothing. */
  giveBack(sender: string, cost: number): void {
    const before = this.#left.get(sender);
    if (before) this.#left.set(sender, { ...before, tokens: Math.min(this.pace.burst, before.tokens + cost) });
  }
}
