import { saidOf } from "./lines/line";

/** Between two attempts to find a device that was lost. */
const againMs = 500;

/** A device that is opened, lost and found again for as long as it is wanted. `T` is what there is of it while it is open. */
export abstract class KeptOpen<T> {
  protected there: T | null = null;
  protected isWanted = false;
  #opening: Promise<void> | null = null;
  #again: NodeJS.Timeout | null = null;
  /** Why it cannot be reached just now; null where it can, or was not tried. */
  why: string | null = null;

  constructor(private readonly onChange: () => void) {}

  /** Opens it; rejects where it cannot be reached, with a message for people. */
  protected abstract reach(): Promise<T>;
  /** It is open now. */
  protected abstract opened(there: T): void;
  /** It is not any longer; what is left of it is to be closed. */
  protected abstract letGo(there: T | null): Promise<void>;

  get state(): "closed" | "ready" | "lost" {
    return this.there ? "ready" : this.why === null ? "closed" : "lost";
  }

  /** Opens it and keeps it open: where it is lost it is looked for until `close`. */
  async keepOpen(): Promise<void> {
    this.isWanted = true;
    await this.open().catch(() => this.#lookAgain());
  }

  async close(): Promise<void> {
    this.isWanted = false;
    if (this.#again) clearTimeout(this.#again);
    this.#again = null;
    await this.#opening?.catch(() => undefined);
    await this.drop(null);
    // It may have become wanted while it was being let go: a page that is loaded anew begins as the one before it ends.
    if (this.isWanted) await this.keepOpen();
  }

  protected async open(): Promise<void> {
    if (this.there) return;
    this.#opening ??= this.reach()
      .then(
        (there) => {
          this.there = there;
          this.why = null;
          this.opened(there);
          this.onChange();
        },
        (error: unknown) => {
          this.why = saidOf(error);
          this.onChange();
          throw error;
        },
      )
      .finally(() => (this.#opening = null));
    await this.#opening;
  }

  /** Lets it go; where it was lost (`why`) and is wanted it is looked for. */
  protected async drop(why: string | null): Promise<void> {
    const { there } = this;
    this.there = null;
    this.why = why;
    await this.letGo(there);
    this.onChange();
    if (why !== null) this.#lookAgain();
  }

  #lookAgain(): void {
    if (!this.isWanted || this.#again) return;
    this.#again = setTimeout(() => {
      this.#again = null;
      this.open().catch(() => this.#lookAgain());
    }, againMs);
  }
}
