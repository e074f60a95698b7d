import { dequal } from "dequal";
import type { Balance } from "~/core/balance/counts";
import type { Finding } from "~/core/check/finding";
import type { Ribbon } from "~/core/compile/ribbon";
import { patchesBetween } from "~/core/design/edits/between";
import type { StudyDocument } from "~/core/design/document";
import type { FromStudyWorker, ToStudyWorker } from "~/workers/study";

export type RibbonQuestion = { participant: number; color: string | null; height: string | null; sitting: number };

/**
 * What a web worker computes from the study in the background: the ribbon and preflight's findings. The worker is told
 * the study once and then only what changes. The previous result stays until the next arrives.
 */
export class Background {
  #worker: Worker | null = null;
  #known: StudyDocument | null = null;
  #asked = 0;
  #ribbon: Ribbon | null = null;
  #findings: Finding[] = [];
  #listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };
  ribbon = (): Ribbon | null => this.#ribbon;
  findings = (): Finding[] => this.#findings;

  start(): () => void {
    const worker = new Worker(new URL("../../workers/study.ts", import.meta.url), { type: "module" });
    worker.onmessage = ({ data }: MessageEvent<FromStudyWorker>) => {
      // Most edits change neither: then nothing is drawn anew.
      if (data.kind === "findings" && !dequal(data.findings, this.#findings)) this.#findings = data.findings;
      else if (data.kind === "ribbon" && data.id === this.#asked && !dequal(data.ribbon, this.#ribbon))
        this.#ribbon = data.ribbon;
      else return;
      for (const listener of this.#listeners) listener();
    };
    this.#worker = worker;
    this.#known = null;
    return () => {
      worker.terminate();
      this.#worker = null;
    };
  }

  /** Asks for the ribbon of this version of the study, once the window has drawn it; findings follow by themselves. */
  ask(document: StudyDocument, question: RibbonQuestion): void {
    const id = ++this.#asked;
    requestAnimationFrame(() =>
      setTimeout(() => {
        if (!this.#worker || id !== this.#asked) return;
        this.#tell(document);
        this.#post({ kind: "ribbon", id, ...question });
      }),
    );
  }

  /**
   * Draws many participants of this version in a worker of its own, so that the ribbon goes on meanwhile; tells how far
   * it is, from 0 to 1, and at the end what was found. Returns a function that cancels it.
   */
  drawMany(
    document: StudyDocument,
    participants: number,
    tell: (share: number, balance: Balance | null, reactions: string[]) => void,
  ): () => void {
    const worker = new Worker(new URL("../../workers/study.ts", import.meta.url), { type: "module" });
    worker.onmessage = ({ data }: MessageEvent<FromStudyWorker>) => {
      if (data.kind !== "balance") return;
      tell(data.share, data.balance, data.reactions);
      if (data.balance) worker.terminate();
    };
    worker.postMessage({ kind: "document", document } satisfies ToStudyWorker);
    worker.postMessage({ kind: "balance", participants } satisfies ToStudyWorker);
    return () => worker.terminate();
  }

  #tell(document: StudyDocument): void {
    if (this.#known === null) this.#post({ kind: "document", document });
    else if (this.#known !== document) this.#post({ kind: "patches", patches: patchesBetween(this.#known, document) });
    this.#known = document;
  }

  #post(message: ToStudyWorker): void {
    this.#worker?.postMessage(message);
  }
}
