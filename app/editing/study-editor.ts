import { applyEdit, patched, type Edit, type Patch } from "~/core/design/edits/edit";
import type { StudyDocument } from "~/core/design/types";

export type SaveState =
  | { kind: "saved"; at: string }
  | { kind: "saving" }
  /** The server cannot be reached; the edits are kept in this window and sent again. */
  | { kind: "waiting" }
  | { kind: "refused"; mistakes: string[] }
  /** The study was changed elsewhere since: both versions are there, and the person chooses. */
  | { kind: "conflict"; theirs: StudyDocument; revision: number };

type Change = { patches: Patch[]; inverse: Patch[] };
type Undoable = Change & { merge: string | null; at: number };
export type EditorSnapshot = { document: StudyDocument; save: SaveState; canUndo: boolean; canRedo: boolean };

const mergeWithinMs = 1500;
const sendAfterMs = 350;

/** The study being edited in this window: every change goes through `apply`; saving, undo and redo come from its patches. */
export class StudyEditor {
  #document: StudyDocument;
  #revision: number;
  #undo: Undoable[] = [];
  #redo: Undoable[] = [];
  #unsent: Change[] = [];
  #sending = false;
  #timer: ReturnType<typeof setTimeout> | null = null;
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
    this.#revision = revision;
    this.#save = { kind: "saved", at: savedAt };
    this.#snapshot = this.#take();
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };
  snapshot = (): EditorSnapshot => this.#snapshot;

  /** Carries out an edit. Edits with the same `merge` word shortly after each other are one step of undo; one that begins with `drag ` however long it takes. */
  apply(edit: Edit, merge: string | null = null): void {
    const { document, patches, inverse } = applyEdit(this.#document, edit);
    if (patches.length === 0) return;
    const last = this.#undo.at(-1);
    const at = Date.now();
    if (merge !== null && last?.merge === merge && (at - last.at < mergeWithinMs || merge.startsWith("drag "))) {
      last.patches.push(...patches);
      last.inverse = [...inverse, ...last.inverse];
      last.at = at;
    } else this.#undo.push({ patches: [...patches], inverse, merge, at });
    this.#redo = [];
    this.#moveTo(document, { patches, inverse });
  }

  undo(): void {
    const step = this.#undo.pop();
    if (!step) return;
    this.#redo.push(step);
    this.#moveTo(patched(this.#document, step.inverse), { patches: step.inverse, inverse: step.patches });
  }

  redo(): void {
    const step = this.#redo.pop();
    if (!step) return;
    this.#undo.push({ ...step, merge: null });
    this.#moveTo(patched(this.#document, step.patches), step);
  }

  /** Settled when nothing is left to send, or it cannot be sent now; true when all is saved. */
  async saveNow(): Promise<boolean> {
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
    await this.#send();
    return this.#unsent.length === 0 && this.#save.kind === "saved";
  }

  get hasUnsent(): boolean {
    return this.#unsent.length > 0;
  }

  /** Ends a conflict: takes the version saved elsewhere, or puts this window's on top of it as a new edit. */
  settle(take: "theirs" | "mine"): void {
    if (this.#save.kind !== "conflict") return;
    const { theirs, revision } = this.#save;
    const mine = this.#document;
    this.#revision = revision;
    this.#unsent = [];
    this.#save = { kind: "saving" };
    const whole = (value: StudyDocument): Patch[] => [{ op: "replace", path: [], value }];
    const step = (from: StudyDocument, to: StudyDocument): Undoable => ({
      patches: whole(to),
      inverse: whole(from),
      merge: null,
      at: Date.now(),
    });
    // Undo leads over theirs in both cases, and from there back into this window's own history.
    this.#undo.push(step(mine, theirs));
    this.#redo = [];
    if (take === "theirs") {
      this.#document = theirs;
      this.#save = { kind: "saved", at: new Date().toISOString() };
      this.#tell();
    } else {
      this.#undo.push(step(theirs, mine));
      this.#moveTo(mine, step(theirs, mine));
    }
  }

  #moveTo(document: StudyDocument, change: Change): void {
    this.#document = document;
    this.#unsent.push(change);
    if (this.#save.kind === "saved" || this.#save.kind === "refused") this.#save = { kind: "saving" };
    if (this.#save.kind !== "conflict") this.#sendSoon(sendAfterMs);
    this.#tell();
  }

  #sendSoon(ms: number): void {
    this.#timer ??= setTimeout(() => {
      this.#timer = null;
      void this.#send();
    }, ms);
  }

  async #send(): Promise<void> {
    if (this.#sending || this.#unsent.length === 0 || this.#save.kind === "conflict") return;
    this.#sending = true;
    const sent = this.#unsent.length;
    const patches = this.#unsent.flatMap((change) => change.patches);
    const inverse = this.#unsent.toReversed().flatMap((change) => change.inverse);
    try {
      const response = await fetch(`/studies/${this.code}/edits`, {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify({ base: this.#revision, patches, inverse }),
      });
      const answer = (await response.json()) as {
        revision: number;
        savedAt: string;
        document: StudyDocument;
        mistakes?: string[];
      };
      if (response.ok) {
        this.#revision = answer.revision;
        this.#unsent.splice(0, sent);
        this.#save = this.#unsent.length > 0 ? { kind: "saving" } : { kind: "saved", at: answer.savedAt };
      } else if (response.status === 409)
        this.#save = { kind: "conflict", theirs: answer.document, revision: answer.revision };
      else this.#save = { kind: "refused", mistakes: answer.mistakes ?? ["The server refused the change."] };
    } catch {
      this.#save = { kind: "waiting" };
    }
    this.#sending = false;
    if (this.#save.kind === "waiting") this.#sendSoon(2000);
    else if (this.#unsent.length > 0 && this.#save.kind === "saving") this.#sendSoon(0);
    this.#tell();
  }

  #take = (): EditorSnapshot => ({
    document: this.#document,
    save: this.#save,
    canUndo: this.#undo.length > 0,
    canRedo: this.#redo.length > 0,
  });

  #tell(): void {
    this.#snapshot = this.#take();
    for (const listener of this.#listeners) listener();
  }
}
