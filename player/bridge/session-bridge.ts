import { ClockTie, ownTime } from "~/core/bridge/clock";
import type { KeptBridge } from "./kept";
import { BridgeLink } from "./link";

const [exchangesFirst, exchangeEveryMs, againMs] = [12, 1000, 500];
/** So long an unreachable bridge may hold up a session that begins, and a last answer one that ends. */
export const patienceMs = 2000;

/** What a promise gives, or null where that takes longer. */
export const within = <T>(promise: Promise<T>, ms: number): Promise<T | null> =>
  Promise.race([promise, new Promise<null>((resolve) => setTimeout(() => resolve(null), ms))]);
export const thousandth = (ms: number): number => Math.round(ms * 1000) / 1000;
/** Tells one loading of the page from another. */
export const newOpening = (): string =>
  Array.from(crypto.getRandomValues(new Uint8Array(5)), (byte) => byte.toString(36)).join("");

/** What is told of a bridge during a session, and how the session begins on it. */
type Told = {
  here: (link: BridgeLink) => void;
  away: () => void;
  /** Its clock jumped, by so many milliseconds. */
  jumped: (by: number) => void;
  start: (link: BridgeLink) => Promise<unknown>;
};

/** The bridge of this computer during a session: its clock is kept related to ours, and it is looked for when it is lost. */
export class SessionBridge {
  link: BridgeLink | null = null;
  readonly #tie = new ClockTie();
  #timer: ReturnType<typeof setInterval> | null = null;
  #isOver = false;

  constructor(
    private readonly kept: KeptBridge,
    private readonly told: Told,
  ) {}

  async open(isFirst = true): Promise<void> {
    try {
      const link = await BridgeLink.reach(this.kept.port, this.kept.secret);
      if (link.hello?.isPaired !== true) throw new Error("not paired");
      for (let count = 0; count < exchangesFirst; count++) this.#tie.add(await link.exchange());
      await this.told.start(link);
      if (this.#isOver) return link.close();
      this.link = link;
      link.onChange = () => {
        if (!link.isOpen && this.link === link) this.#lost();
      };
      this.told.here(link);
      this.#timer = setInterval(() => void this.#exchange(link), exchangeEveryMs);
    } catch {
      if (isFirst) this.told.away();
      this.#lookAgain();
    }
  }

  async stop(): Promise<void> {
    this.#isOver = true;
    if (this.#timer) clearInterval(this.#timer);
    if (this.link) await within(this.link.stop(), patienceMs).catch(() => null);
    this.link?.close();
  }

  /** A time of the bridge by this page's clock, and at most how far off; null where the clocks were never compared. */
  own(there: number): { at: number; uncertainty: number } | null {
    const { relation } = this.#tie;
    return relation && ownTime(relation, there);
  }

  async #exchange(link: BridgeLink) {
    const jumps = this.#tie.jumps.length;
    const exchange = await link.exchange().catch(() => null);
    if (!exchange) return;
    this.#tie.add(exchange);
    if (this.#tie.jumps.length > jumps) this.told.jumped(thousandth(this.#tie.jumps.at(-1)?.by ?? 0));
  }

  #lost() {
    if (this.#timer) clearInterval(this.#timer);
    this.#timer = null;
    this.link = null;
    if (this.#isOver) return;
    this.told.away();
    this.#lookAgain();
  }
  #lookAgain() {
    if (!this.#isOver) setTimeout(() => void (this.#isOver || this.open(false)), againMs);
  }
}
