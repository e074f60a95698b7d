/** How much may come at once, and how much a second after that. */
export type Pace = { burst: number; perSecond: number };

/** Keeps requests of one sender to a pace (a token bucket); remembers the latest `most` senders. */
export class PaceKeeper {
  readonly #left = new Map<string, { tokens: number; at: number }>();

  constructor(
    private readonly pace: Pace,
    private readonly most = 20_000,
  ) {}

  /** Whether this sender may go on now; `now` in milliseconds on any steady clock, `cost` of what it asks. */
  allows(sender: string, now: number, cost = 1): boolean {
    const { burst, perSecond } = this.pace;
    const before = this.#left.get(sender) ?? { tokens: burst, at: now };
    const tokens = Math.min(burst, before.tokens + ((now - before.at) / 1000) * perSecond);
    const isAllowed = tokens >= cost;
    this.#left.delete(sender);
    this.#left.set(sender, { tokens: isAllowed ? tokens - cost : tokens, at: now });
    if (this.#left.size > this.most) this.#left.delete(this.#left.keys().next().value as string);
    return isAllowed;
  }
}
