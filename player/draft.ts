import type { Entries } from "~/core/questions/entry";

/**
 * What is typed on a page before it is left, kept on the participant's computer so that neither a reload nor a crash takes
 * it. `record` is the number of the record the page will make: a draft of any other visit is of no use.
 */
export type Draft = { record: number; shown: number; reminded: number | null; entries: Entries };

/** Takes what somebody typed and never handed in off a computer that others use. */
export function forgetDraft(session: string): void {
  try {
    localStorage.removeItem(keyOf(session));
  } catch {
    // A browser that keeps nothing has nothing to forget.
  }
}

const keyOf = (session: string) => `lapwing-page:${session}`;
/** So long, in ms, what was typed may wait to be written. */
const delay = 120;

export class DraftKeeper {
  #latest: Draft | null = null;
  #timer: ReturnType<typeof setTimeout> | null = null;

  constructor(private readonly session: string) {
    addEventListener("pagehide", () => this.#write());
    document.addEventListener("visibilitychange", () => this.#write());
  }

  /** What was left of the page that makes this record; null where nothing was. */
  found(record: number): Draft | null {
    try {
      const draft = JSON.parse(localStorage.getItem(keyOf(this.session)) ?? "null") as Draft | null;
      return draft?.record === record ? draft : null;
    } catch {
      return null;
    }
  }

  keep(draft: Draft): void {
    this.#latest = draft;
    this.#timer ??= setTimeout(() => this.#write(), delay);
  }

  forget(): void {
    if (this.#timer !== null) clearTimeout(this.#timer);
    this.#timer = this.#latest = null;
    forgetDraft(this.session);
  }

  #write(): void {
    if (this.#timer !== null) clearTimeout(this.#timer);
    this.#timer = null;
    if (this.#latest === null) return;
    try {
      localStorage.setItem(keyOf(this.session), JSON.stringify(this.#latest));
    } catch {
      // Full or not allowed: the page goes on without.
    }
  }
}
