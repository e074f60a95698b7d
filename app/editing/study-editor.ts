import { patchesBetween } from "~/core/design/edits/between";
import { editProblem } from "~/core/design/edits/edit-problem";
import { tellRefused } from "./refused";
import { applyEdit, patched, type Edit } from "~/core/design/edits/edit";
import { merge, transplanted, type Conflict } from "~/core/design/merge";
import type { StudyDocument } from "~/core/design/document";
import type { Change, EditorState, EditStore, LogEntry, Remembered, Span } from "./edit-store";

export type SaveState =
  | { kind: "saved"; at: string }
  | { kind: "saving" }
  /** The server cannot be reached; the edits are kept on this computer and sent again. */
  | { kind: "waiting" }
  /** The server no longer knows who this is; the edits are kept on this computer until someone signs in again. */
  | { kind: "signed-out" }
  | { kind: "refused"; mistakes: string[] };

export type EditorSnapshot = {
  document: StudyDocument;
  save: SaveState;
  canUndo: boolean;
  canRedo: boolean;
  /** Values that were changed here and elsewhere; what was set here holds until the other is taken. */
  conflicts: Conflict[];
};

const mergeWithinMs = 1500;
const sendAfterMs = 350;
const lookEveryMs = 1200;
/** A window not found open so many looks in a row is closed, and not only reloading. */
const looksForClosed = 4;

/** So often at most is sent until all is saved, in one go. */
const mostRounds = 5;

/**
 * The study being edited in this window: every change goes through `apply`. All changes, also those that come from
 * other windows, make one log, kept on disk; undo and redo take spans of it back, also when others have edited since.
 * What the server has not yet acknowledged is sent until it has, and merged with what was saved elsewhere meanwhile.
 */
export class StudyEditor {
  #document: StudyDocument;
  #server: { document: StudyDocument; revision: number };
  #log: LogEntry[] = [];
  #undo: Span[] = [];
  #redo: EditorState["redo"] = [];
  #unsent: Change[] = [];
  #conflicts: Conflict[] = [];
  #store: EditStore | null = null;
  #isKept = true;
  #sending = false;
  #timer: ReturnType<typeof setTimeout> | null = null;
  #watch: ReturnType<typeof setInterval> | null = null;
  #listeners = new Set<() => void>();
  #snapshot: EditorSnapshot;
  #save: SaveState;

  constructor(
    private readonly code: string,
    document: StudyDocument,
    revision: number,
    savedAt: string,
  ) {
    this.#document = document;
    this.#server = { document, revision };
    this.#save = { kind: "saved", at: savedAt };
    this.#snapshot = this.#take();
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };
  snapshot = (): EditorSnapshot => this.#snapshot;

  /** Settled once what was on disk is back. */
  #recalling: Promise<unknown> = Promise.resolve();

  /** Brings back what this window, or one that was closed, had on disk; from now on everything is kept there. */
  recall(opening: EditStore | Promise<EditStore>): Promise<void> {
    const recalling = this.#recall(opening);
    this.#recalling = recalling.catch(() => undefined);
    return recalling;
  }

  async #recall(opening: EditStore | Promise<EditStore>): Promise<void> {
    const store = await opening;
    const remembered = await store.recall().catch(() => null);
    // What cannot be taken up now (someone typed already, or its base cannot be had) is left on disk and merged below, or
    // at the next visit: nothing kept is thrown away before it stands in the study.
    const isResumed =
      remembered !== null &&
      this.#log.length === 0 &&
      (await this.#resume(remembered).then(
        () => true,
        () => false,
      ));
    if (remembered && !isResumed) await store.startAnew().catch(() => undefined);
    this.#store = store;
    if (!isResumed) for (const entry of this.#log) void store.append(entry).catch(() => (this.#isKept = false));
    this.#persist();
    await this.#takeUpLeftBehind(1);
    this.#tell();
  }

  #takingUp = false;
  /** Takes up what windows left behind, those that have closed since this one looked last among them. */
  async #takeUpLeftBehind(looks: number): Promise<void> {
    if (this.#takingUp || !this.#store) return;
    this.#takingUp = true;
    for (const { state, forget } of await this.#store.leftBehind(looks).catch(() => [])) {
      const isAdopted = await this.#adopt(state).then(
        () => true,
        () => false,
      );
      if (isAdopted) await forget().catch(() => undefined);
    }
    this.#takingUp = false;
  }

  /** Watches for what others save; returns a function that stops it. */
  watch(): () => void {
    this.#watch ??= setInterval(() => {
      void this.#takeUpLeftBehind(looksForClosed);
      void this.lookForChanges();
    }, lookEveryMs);
    return () => {
      if (this.#watch) clearInterval(this.#watch);
      this.#watch = null;
    };
  }

  /**
   * Carries out an edit, or tells why not: what is not a study is refused here and not only by the server. Edits with the same `merge` word shortly after each other are one step of undo; one that begins with
   * `drag ` however long it takes.
   */
  apply(edit: Edit, merge: string | null = null): void {
    const { document, patches, inverse } = applyEdit(this.#document, edit);
    if (patches.length === 0) return;
    const problem = editProblem(this.#document, document);
    if (problem) return tellRefused(problem);
    const last = this.#undo.at(-1);
    const [at, number] = [Date.now(), this.#log.length];
    const goesOn =
      last !== undefined &&
      merge !== null &&
      last.merge === merge &&
      last.to === number - 1 &&
      (at - last.at < mergeWithinMs || merge.startsWith("drag "));
    if (goesOn) this.#undo[this.#undo.length - 1] = { ...last, to: number, at };
    else this.#undo.push({ from: number, to: number, merge, at });
    this.#redo = [];
    this.#moveTo(document, { patches, inverse });
  }

  undo(): void {
    const span = this.#undo.pop();
    if (!span) return;
    const number = this.#log.length;
    const entries = this.#log.slice(span.from, span.to + 1);
    if (span.to === number - 1) this.#moveBack(entries);
    else this.#carryOver(this.#after(span.to), this.#after(span.from - 1));
    this.#redo.push({ span, undoneBy: number });
    this.#persist();
    this.#tell();
  }

  redo(): void {
    const step = this.#redo.pop();
    if (!step) return;
    const number = this.#log.length;
    const undone = this.#log[step.undoneBy];
    if (undone && step.undoneBy === number - 1) this.#moveBack([undone]);
    else this.#carryOver(this.#after(step.span.from - 1), this.#after(step.span.to));
    this.#undo.push({ from: number, to: number, merge: null, at: Date.now() });
    this.#persist();
    this.#tell();
  }

  /** Resolves when nothing is left to send, or nothing can be sent now; true when all is saved. */
  async saveNow(): Promise<boolean> {
    // What was left on disk is to be saved as well.
    await this.#recalling;
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
    // What is under way has to come back before the rest can go.
    for (let round = 0; round < mostRounds; round++) {
      await this.#send();
      if (this.#unsent.length === 0 || this.#save.kind !== "saving") break;
    }
    return this.#unsent.length === 0 && this.#save.kind === "saved";
  }

  /** Sends what is to be saved, and waits until it is; false where the server refuses it. */
  whenSaved(): Promise<boolean> {
    return new Promise((resolve) => {
      const look = () => {
        const isRefused = this.#save.kind === "refused";
        const isSaved = this.#save.kind === "saved" && this.#unsent.length === 0;
        if (!isSaved && !isRefused) return;
        leave();
        resolve(isSaved);
      };
      const leave = this.subscribe(look);
      void this.saveNow().then(look);
    });
  }

  /** Whether leaving now would lose something: edits that are neither saved nor on disk. */
  get wouldLose(): boolean {
    return this.#unsent.length > 0 && (this.#store === null || !this.#isKept);
  }

  /** Ends a conflict: takes what was set elsewhere, as an edit of its own, or leaves what was set here. */
  settle(conflict: Conflict, take: "mine" | "theirs"): void {
    this.#conflicts = this.#conflicts.filter((each) => each !== conflict);
    this.#persist();
    if (take === "theirs") this.apply((draft) => setAt(draft, conflict.path, conflict.theirs));
    this.#tell();
  }

  /** Asks the server whether others have saved since, and takes it in. */
  async lookForChanges(): Promise<void> {
    if (this.#sending) return;
    const { revision } = this.#server;
    try {
      const response = await fetch(`/studies/${this.code}/edits?since=${revision}`);
      if (response.status !== 200) return;
      const newer = (await response.json()) as { revision: number; document: StudyDocument };
      if (!this.#sending && this.#server.revision === revision) this.#receive(newer.document, newer.revision);
    } catch {
      // Away just now; sending says so where it matters.
    }
  }

  /** The document as it was after an entry of the log; −1 is before the first. */
  #after(number: number): StudyDocument {
    let document = this.#document;
    for (let at = this.#log.length - 1; at > number; at--)
      document = patched(document, (this.#log[at] as LogEntry).inverse);
    return document;
  }

  #moveBack(entries: LogEntry[]): void {
    const inverse = entries.flatMap(({ patches }) => patches);
    const patches = entries.toReversed().flatMap((entry) => entry.inverse);
    this.#moveTo(patched(this.#document, patches), { patches, inverse });
  }

  /** Carries the change from one version to another over to the present one. */
  #carryOver(from: StudyDocument, to: StudyDocument): void {
    const document = transplanted(from, to, this.#document);
    this.#moveTo(document, between(this.#document, document));
  }

  #moveTo(document: StudyDocument, change: Change): void {
    this.#record(document, change);
    if (change.patches.length > 0) this.#unsent.push(change);
    if (this.#save.kind === "saved" || this.#save.kind === "refused") this.#save = { kind: "saving" };
    this.#sendSoon(sendAfterMs);
    this.#persist();
    this.#tell();
  }

  #record(document: StudyDocument, change: Change): void {
    this.#document = document;
    const entry = { ...change, number: this.#log.length };
    this.#log.push(entry);
    void this.#store?.append(entry).catch(() => (this.#isKept = false));
  }

  #persist(): void {
    const state: EditorState = {
      revision: this.#server.revision,
      unsent: this.#unsent,
      undo: this.#undo,
      redo: this.#redo,
      conflicts: this.#conflicts,
    };
    void this.#store?.save(state).then(
      () => (this.#isKept = true),
      () => (this.#isKept = false),
    );
  }

  /** Takes in a version saved elsewhere: at once where nothing is unsent here, else merged with what is. */
  #receive(theirs: StudyDocument, revision: number): void {
    const mine = this.#document;
    const { document, conflicts } =
      this.#unsent.length === 0 ? { document: theirs, conflicts: [] } : merge(this.#server.document, mine, theirs);
    this.#server = { document: theirs, revision };
    const change = between(mine, document);
    if (change.patches.length > 0) this.#record(document, change);
    const rest = between(theirs, document);
    this.#unsent = rest.patches.length > 0 ? [rest] : [];
    this.#conflicts = [...this.#conflicts, ...conflicts];
    if (this.#unsent.length > 0) this.#sendSoon(0);
    else if (this.#save.kind !== "refused") this.#save = { kind: "saved", at: new Date().toISOString() };
    this.#persist();
    this.#tell();
  }

  async #resume({ state, log }: Remembered): Promise<void> {
    const now = this.#server;
    const base = state.revision === now.revision ? now.document : await this.#documentAt(state.revision);
    const document = patched(
      base,
      state.unsent.flatMap(({ patches }) => patches),
    );
    this.#log = log;
    this.#document = document;
    this.#server = { document: base, revision: state.revision };
    this.#undo = state.undo.filter(({ to }) => to < log.length);
    this.#redo = state.redo.filter(({ span, undoneBy }) => span.to < log.length && undoneBy < log.length);
    this.#unsent = state.unsent;
    this.#conflicts = state.conflicts ?? [];
    if (state.unsent.length > 0) {
      this.#save = { kind: "saving" };
      this.#sendSoon(0);
    }
    if (state.revision !== now.revision) this.#receive(now.document, now.revision);
  }

  /** Takes over what a closed window had not sent, as an edit of this one. */
  async #adopt({ revision, unsent }: EditorState): Promise<void> {
    const base = revision === this.#server.revision ? this.#server.document : await this.#documentAt(revision);
    const theirs = patched(
      base,
      unsent.flatMap(({ patches }) => patches),
    );
    const number = this.#log.length;
    const { document, conflicts } = merge(base, theirs, this.#document);
    this.#moveTo(document, between(this.#document, document));
    this.#undo.push({ from: number, to: number, merge: null, at: Date.now() });
    this.#conflicts = [...this.#conflicts, ...conflicts];
  }

  async #documentAt(revision: number): Promise<StudyDocument> {
    const response = await fetch(`/studies/${this.code}/edits?at=${revision}`);
    if (!response.ok) throw new Error(`No revision ${revision} of this study`);
    return ((await response.json()) as { document: StudyDocument }).document;
  }

  #sendSoon(ms: number): void {
    this.#timer ??= setTimeout(() => {
      this.#timer = null;
      void this.#send();
    }, ms);
  }

  #underway: Promise<void> | null = null;
  /** Sends what is unsent; where something is under way already, settled with that. */
  #send(): Promise<void> {
    this.#underway ??= this.#sendOnce().finally(() => (this.#underway = null));
    return this.#underway;
  }

  async #sendOnce(): Promise<void> {
    if (this.#unsent.length === 0) return;
    this.#sending = true;
    const sent = this.#unsent.length;
    const document = this.#document;
    const patches = this.#unsent.flatMap((change) => change.patches);
    const inverse = this.#unsent.toReversed().flatMap((change) => change.inverse);
    try {
      const response = await fetch(`/studies/${this.code}/edits`, {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify({ base: this.#server.revision, patches, inverse }),
      });
      if (response.redirected) throw new SignedOut();
      const answer = (await response.json()) as {
        revision: number;
        savedAt: string;
        document: StudyDocument;
        mistakes?: string[];
        reason?: string;
      };
      if (response.ok) {
        this.#server = { document, revision: answer.revision };
        this.#unsent.splice(0, sent);
        this.#save = this.#unsent.length > 0 ? { kind: "saving" } : { kind: "saved", at: answer.savedAt };
        this.#persist();
      } else if (response.status === 409) this.#receive(answer.document, answer.revision);
      else if (response.status < 500)
        this.#save = {
          kind: "refused",
          mistakes: answer.mistakes ?? [answer.reason ?? "The server refused the change."],
        };
      else throw new Error("The server failed");
    } catch (error) {
      this.#save = { kind: error instanceof SignedOut ? "signed-out" : "waiting" };
    }
    this.#sending = false;
    if (this.#save.kind === "waiting" || this.#save.kind === "signed-out") this.#sendSoon(2000);
    else if (this.#unsent.length > 0 && this.#save.kind === "saving") this.#sendSoon(0);
    this.#tell();
  }

  #take = (): EditorSnapshot => ({
    document: this.#document,
    save: this.#save,
    canUndo: this.#undo.length > 0,
    canRedo: this.#redo.length > 0,
    conflicts: this.#conflicts,
  });

  #tell(): void {
    this.#snapshot = this.#take();
    for (const listener of this.#listeners) listener();
  }
}

class SignedOut extends Error {}

const between = (from: StudyDocument, to: StudyDocument): Change => ({
  patches: patchesBetween(from, to),
  inverse: patchesBetween(to, from),
});

/** Sets the value at a path that leads through ids where a list has them; undefined takes it away. */
function setAt(draft: unknown, path: string[], value: unknown): void {
  let here = draft as Record<string, unknown> | { id?: string; part?: string }[];
  const step = (into: typeof here, key: string): string | number =>
    Array.isArray(into) ? into.findIndex((entry) => entry.id === key || entry.part === key) : key;
  for (const key of path.slice(0, -1)) {
    const next = (here as Record<string | number, unknown>)[step(here, key)];
    if (typeof next !== "object" || next === null) return;
    here = next as typeof here;
  }
  const last = step(here, path.at(-1) ?? "");
  if (Array.isArray(here)) {
    if (value === undefined && Number(last) >= 0) here.splice(Number(last), 1);
    else if (Number(last) >= 0) here[Number(last)] = value as { id?: string };
    else if (value !== undefined) here.push(value as { id?: string });
  } else if (value === undefined) delete here[last];
  else here[last] = value;
}
