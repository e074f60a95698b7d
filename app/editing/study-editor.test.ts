import fc from "fast-check";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { applyEdit, patched, type Patch } from "~/core/design/edits/edit";
import { setSettings, setTitle } from "~/core/design/edits/study";
import { addRows } from "~/core/design/edits/table";
import type { StudyDocument } from "~/core/design/document";
import { firstBlock, plainStudy } from "~/tests/support/studies";
import type { EditorState, EditStore, LogEntry } from "./edit-store";
import { refusalOf } from "./refused";
import { StudyEditor } from "./study-editor";

/** A server of one study: takes patches on its present revision, as the real one does. */
class FakeServer {
  document: StudyDocument = plainStudy();
  revision = 1;
  requests = 0;
  isAway = false;
  refuses: string[] | null = null;

  history: StudyDocument[] = [];

  fetch = (path: string, init?: { body: string }): Promise<Response> => {
    this.requests++;
    if (this.isAway) return Promise.reject(new TypeError("no network"));
    const asked = new URLSearchParams(path.split("?")[1] ?? "");
    if (!init && asked.has("at"))
      return Promise.resolve(
        this.forgets
          ? new Response(null, { status: 404 })
          : Response.json({ document: this.at(Number(asked.get("at"))) }),
      );
    if (!init)
      return Promise.resolve(
        Number(asked.get("since")) === this.revision
          ? new Response(null, { status: 204 })
          : Response.json({ revision: this.revision, document: this.document }),
      );
    const { base, patches } = JSON.parse(init.body) as { base: number; patches: Patch[] };
    if (this.refuses) return Promise.resolve(Response.json({ mistakes: this.refuses }, { status: 422 }));
    if (base !== this.revision)
      return Promise.resolve(Response.json({ revision: this.revision, document: this.document }, { status: 409 }));
    this.save(patched(this.document, patches));
    if (this.losesAnswers) return Promise.reject(new TypeError("the answer got lost"));
    return Promise.resolve(Response.json({ revision: this.revision, savedAt: "2026-11-23T10:00:00Z" }));
  };
  losesAnswers = false;
  /** Versions before the present one can no longer be had. */
  forgets = false;
  at = (revision: number) => [...this.history, this.document][revision - 1] as StudyDocument;
  /** As another tab or person saves. */
  save(document: StudyDocument): void {
    this.history.push(this.document);
    this.document = document;
    this.revision++;
  }
}

/** A disk of this computer that outlives windows. */
class Disk {
  kept = new Map<string, { state: EditorState | null; log: LogEntry[] }>();
  /** Windows that are open still. */
  held = new Set<string>();
  open(window: string): EditStore {
    const own = () => this.kept.get(window) ?? { state: null, log: [] };
    return {
      recall: () => {
        const { state, log } = structuredClone(own());
        return Promise.resolve(state ? { state, log } : null);
      },
      leftBehind: () =>
        Promise.resolve(
          [...this.kept].flatMap(([name, { state }]) =>
            name !== window && !this.held.has(name) && state && state.unsent.length > 0
              ? [{ state, forget: () => Promise.resolve(void this.kept.delete(name)) }]
              : [],
          ),
        ),
      startAnew: () => {
        window = `${window}+`;
        return Promise.resolve();
      },
      append: (entry) => {
        const { state, log } = own();
        this.kept.set(window, { state, log: [...log, structuredClone(entry)] });
        return Promise.resolve();
      },
      save: (state) => {
        this.kept.set(window, { ...own(), state: structuredClone(state) });
        return Promise.resolve();
      },
      close: () => undefined,
    };
  }
}

let server: FakeServer;
let editor: StudyEditor;
const title = () => editor.snapshot().document.title;
const save = () => editor.snapshot().save.kind;
const addRow = (id: string) => addRows(firstBlock(plainStudy()).id, [{ id, copies: 1, cells: {} }], 99);
/** Lets timers run and what they start come to its end. */
const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms);

beforeEach(() => {
  vi.useFakeTimers();
  server = new FakeServer();
  vi.stubGlobal("fetch", server.fetch);
  editor = new StudyEditor("amber-quay", server.document, 1, "2026-11-23T09:00:00Z");
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

describe("the study editor", () => {
  it("saves each edit within a second, several together in one request", async () => {
    editor.apply(setTitle("A"));
    editor.apply(setSettings({ seed: "B" }));
    expect(save()).toBe("saving");
    await pass(900);
    expect([save(), server.requests, server.document.title, server.document.settings.seed]).toEqual([
      "saved",
      1,
      "A",
      "B",
    ]);
  });

  it("tells those who listen, and not those who have stopped", () => {
    const told = vi.fn();
    const stop = editor.subscribe(told);
    editor.apply(setTitle("A"));
    stop();
    editor.apply(setTitle("B"));
    expect(told).toHaveBeenCalledTimes(1);
  });

  it("does nothing for an edit that changes nothing", async () => {
    editor.apply(setTitle(title()));
    await pass(900);
    expect([server.requests, editor.snapshot().canUndo]).toEqual([0, false]);
  });

  it("undoes and redoes step by step, and saves that too", async () => {
    const before = title();
    for (const each of ["A", "B"]) editor.apply(setTitle(each));
    editor.undo();
    expect(title()).toBe("A");
    editor.undo();
    expect([title(), editor.snapshot().canUndo]).toEqual([before, false]);
    editor.redo();
    await pass(900);
    expect([title(), server.document.title]).toEqual(["A", "A"]);
  });

  it("forgets what could be done again once something else is done", () => {
    editor.apply(setTitle("A"));
    editor.undo();
    editor.apply(setTitle("B"));
    expect(editor.snapshot().canRedo).toBe(false);
  });

  it("takes typing as one step as long as it goes on", async () => {
    const before = title();
    for (const each of ["L", "La", "Lap"]) {
      editor.apply(setTitle(each), "title");
      await pass(400);
    }
    await pass(3000);
    editor.apply(setTitle("Lapwing"), "title");
    editor.undo();
    expect(title()).toBe("Lap");
    editor.undo();
    expect(title()).toBe(before);
  });

  it("keeps edits while the server is away and sends them all when it is back", async () => {
    server.isAway = true;
    editor.apply(setTitle("A"));
    await pass(900);
    expect([save(), editor.wouldLose]).toEqual(["waiting", true]);
    editor.apply(setSettings({ seed: "FOG" }));
    server.isAway = false;
    await pass(5000);
    expect([save(), server.document.title, server.document.settings.seed]).toEqual(["saved", "A", "FOG"]);
  });

  it("shows why an edit was refused and saves once it is mended", async () => {
    server.refuses = ["the study: title is missing."];
    editor.apply(setTitle("Not taken"));
    await pass(900);
    expect(editor.snapshot().save).toEqual({ kind: "refused", mistakes: ["the study: title is missing."] });
    server.refuses = null;
    editor.apply(setTitle("Mended"));
    await pass(900);
    expect([save(), server.document.title]).toEqual(["saved", "Mended"]);
  });

  it("refuses at once what is no study any more, and keeps and sends nothing of it", async () => {
    const before = title();
    const told = refusalOf(() => editor.apply(setTitle("a".repeat(201))));
    expect(told).toBe("Must have at most 200 characters.");
    await pass(900);
    expect([title(), save(), server.document.title, editor.snapshot().canUndo]).toEqual([
      before,
      "saved",
      before,
      false,
    ]);
  });

  it("waits for saving where the server comes back, and says where it refuses", async () => {
    server.isAway = true;
    editor.apply(setTitle("A"));
    const waits = editor.whenSaved();
    await pass(3000);
    server.isAway = false;
    await pass(5000);
    expect([await waits, server.document.title]).toEqual([true, "A"]);
    server.refuses = ["No."];
    editor.apply(setTitle("B"));
    expect(await editor.whenSaved()).toBe(false);
  });

  it("says when it is signed out, keeps the edits, and saves them once someone signed in again", async () => {
    const known = server.fetch;
    vi.stubGlobal("fetch", () => {
      const page = new Response("<html>Sign in</html>");
      Object.defineProperty(page, "redirected", { value: true });
      return Promise.resolve(page);
    });
    editor.apply(setTitle("A"));
    await pass(900);
    expect([save(), server.document.title]).not.toContain("A");
    expect(save()).toBe("signed-out");
    vi.stubGlobal("fetch", known);
    await pass(3000);
    expect([save(), server.document.title]).toEqual(["saved", "A"]);
  });

  it("says whether all is saved when asked to save now", async () => {
    editor.apply(setTitle("A"));
    expect(await editor.saveNow()).toBe(true);
    server.isAway = true;
    editor.apply(setTitle("B"));
    expect(await editor.saveNow()).toBe(false);
  });

  it("saves all when asked to while something is on its way already", async () => {
    editor.apply(setTitle("A"));
    const first = editor.saveNow();
    editor.apply(setTitle("B"));
    const both = await Promise.all([first, editor.saveNow()]);
    expect([both, server.document.title, save()]).toEqual([[true, true], "B", "saved"]);
  });

  describe("when others edit too", () => {
    const elsewhere = (change: (document: StudyDocument) => void) => {
      const theirs = structuredClone(server.document);
      change(theirs);
      server.save(theirs);
    };

    it("shows what they saved within two seconds", async () => {
      const stop = editor.watch();
      elsewhere((document) => (document.title = "Theirs"));
      await pass(2000);
      stop();
      expect([title(), save(), editor.snapshot().canUndo]).toEqual(["Theirs", "saved", false]);
    });

    it("merges with what is being edited here, and saves both", async () => {
      elsewhere((document) => (document.description = "Dusk"));
      editor.apply(setTitle("Mine"));
      await pass(2000);
      expect([server.document.title, server.document.description, save()]).toEqual(["Mine", "Dusk", "saved"]);
      expect(editor.snapshot().conflicts).toEqual([]);
    });

    it("tells of what both set, keeps what was set here, and takes the other when asked", async () => {
      elsewhere((document) => (document.title = "Theirs"));
      editor.apply(setTitle("Mine"));
      await pass(2000);
      const [conflict] = editor.snapshot().conflicts;
      expect([title(), server.document.title, conflict]).toEqual([
        "Mine",
        "Mine",
        { path: ["title"], mine: "Mine", theirs: "Theirs" },
      ]);
      editor.settle(conflict!, "theirs");
      await pass(900);
      expect([server.document.title, editor.snapshot().conflicts]).toEqual(["Theirs", []]);
      editor.undo();
      expect(title()).toBe("Mine");
    });

    it("takes back own steps only, whatever others did since", async () => {
      const stop = editor.watch();
      const before = title();
      editor.apply(setTitle("Mine"));
      await pass(900);
      elsewhere((document) => (document.description = "Dusk"));
      await pass(2000);
      editor.undo();
      expect([title(), editor.snapshot().document.description]).toEqual([before, "Dusk"]);
      editor.redo();
      await pass(900);
      stop();
      expect([server.document.title, server.document.description]).toEqual(["Mine", "Dusk"]);
    });
  });

  describe("over a reload", () => {
    const disk = () => new Disk();
    const reopen = async (on: Disk, window = "w") => {
      editor = new StudyEditor("amber-quay", server.document, server.revision, "2026-11-23T09:00:00Z");
      await editor.recall(on.open(window));
    };

    it("undoes and redoes what was done before", async () => {
      const on = disk();
      const before = title();
      await reopen(on);
      for (const each of ["A", "B"]) editor.apply(setTitle(each));
      await pass(900);
      await reopen(on);
      editor.undo();
      editor.undo();
      expect([title(), editor.snapshot().canUndo]).toEqual([before, false]);
      editor.redo();
      editor.redo();
      await pass(900);
      expect([title(), server.document.title]).toEqual(["B", "B"]);
    });

    it("sends what it could not send before", async () => {
      const on = disk();
      await reopen(on);
      server.isAway = true;
      editor.apply(setTitle("A"));
      await pass(900);
      expect(editor.wouldLose).toBe(false);
      server.isAway = false;
      const [document, revision] = [server.document, server.revision];
      editor = new StudyEditor("amber-quay", document, revision, "2026-11-23T09:00:00Z");
      await editor.recall(on.open("w"));
      expect(title()).toBe("A");
      await pass(900);
      expect([server.document.title, save()]).toEqual(["A", "saved"]);
    });

    it("sends it before it says that all is saved, also when asked at once", async () => {
      const on = disk();
      await reopen(on);
      server.isAway = true;
      editor.apply(setTitle("A"));
      await pass(900);
      server.isAway = false;
      editor = new StudyEditor("amber-quay", server.document, server.revision, "2026-11-23T09:00:00Z");
      const opening = pass(200).then(() => on.open("w"));
      void editor.recall(opening);
      const saved = editor.saveNow();
      await pass(300);
      expect([await saved, server.document.title]).toEqual([true, "A"]);
    });

    it("does nothing twice where the server had saved and only its answer got lost", async () => {
      const on = disk();
      await reopen(on);
      server.losesAnswers = true;
      editor.apply(addRow("r-new"));
      await pass(400);
      server.losesAnswers = false;
      await reopen(on);
      await pass(3000);
      const rows = firstBlock(server.document).table.rows.map(({ id }) => id);
      expect([rows.filter((id) => id === "r-new"), editor.snapshot().conflicts, save()]).toEqual([
        ["r-new"],
        [],
        "saved",
      ]);
    });

    it("takes over what a window that was closed had not sent", async () => {
      const on = disk();
      await reopen(on, "closed");
      server.isAway = true;
      editor.apply(setTitle("A"));
      await pass(900);
      server.isAway = false;
      const left = editor;
      await reopen(on, "new");
      await pass(900);
      expect([server.document.title, title()]).toEqual(["A", "A"]);
      expect(left.snapshot().document.title).toBe("A");
    });

    it("takes up what a window leaves behind that closes after this one was opened", async () => {
      const on = disk();
      await reopen(on);
      server.isAway = true;
      editor.apply(setTitle("A"));
      await pass(900);
      vi.clearAllTimers(); // that window sends nothing any more
      server.isAway = false;
      on.held.add("w");
      await reopen(on, "new");
      const unwatch = editor.watch();
      await pass(6000);
      expect(title()).toBe(server.document.title);
      on.held.delete("w");
      await pass(6000);
      unwatch();
      expect([server.document.title, title()]).toEqual(["A", "A"]);
    });

    it("loses nothing of it when someone types before it is read", async () => {
      const on = disk();
      await reopen(on);
      server.isAway = true;
      editor.apply(setTitle("A"));
      await pass(900);
      server.isAway = false;
      editor = new StudyEditor("amber-quay", server.document, server.revision, "2026-11-23T09:00:00Z");
      editor.apply(setSettings({ seed: "EARLY" }));
      await editor.recall(on.open("w"));
      await pass(900);
      expect([server.document.title, server.document.settings.seed, save()]).toEqual(["A", "EARLY", "saved"]);
    });

    it("leaves it on disk for the next visit when its base cannot be had now", async () => {
      const on = disk();
      await reopen(on);
      server.isAway = true;
      editor.apply(setTitle("A"));
      await pass(900);
      server.isAway = false;
      server.save({ ...structuredClone(server.document), description: "Dusk" });
      server.forgets = true;
      await reopen(on);
      expect(title()).toBe(server.document.title);
      server.forgets = false;
      await reopen(on);
      await pass(2000);
      expect([server.document.title, server.document.description]).toEqual(["A", "Dusk"]);
    });

    it("still tells of what others set too", async () => {
      const on = disk();
      await reopen(on);
      server.save({ ...structuredClone(server.document), title: "Theirs" });
      editor.apply(setTitle("Mine"));
      await pass(2000);
      await reopen(on);
      expect(editor.snapshot().conflicts).toEqual([{ path: ["title"], mine: "Mine", theirs: "Theirs" }]);
    });

    it("merges what was kept here with what others saved meanwhile", async () => {
      const on = disk();
      await reopen(on);
      server.isAway = true;
      editor.apply(setTitle("A"));
      await pass(900);
      server.isAway = false;
      server.save({ ...structuredClone(server.document), description: "Dusk" });
      await reopen(on);
      await pass(900);
      expect([server.document.title, server.document.description]).toEqual(["A", "Dusk"]);
    });
  });

  it("follows any doing, undoing and others' doing: undoing all own steps leaves only what others did", async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.constantFrom("edit", "undo", "redo", "theirs", "wait"), { maxLength: 25 }),
        async (steps) => {
          server = new FakeServer();
          vi.stubGlobal("fetch", server.fetch);
          editor = new StudyEditor("amber-quay", server.document, 1, "2026-11-23T09:00:00Z");
          let count = 0;
          const theirs: string[] = [];
          for (const step of steps) {
            if (step === "edit") editor.apply(addRow(`own-${++count}`));
            else if (step === "undo") editor.undo();
            else if (step === "redo") editor.redo();
            else if (step === "wait") await pass(600);
            else {
              const id = `their-${++count}`;
              theirs.push(id);
              server.save(applyEdit(server.document, addRow(id)).document);
              await editor.lookForChanges();
            }
          }
          while (editor.snapshot().canUndo) editor.undo();
          await pass(6000);
          const rows = firstBlock(server.document).table.rows.map(({ id }) => id);
          expect(rows.slice(0, 2)).toEqual(firstBlock(plainStudy()).table.rows.map(({ id }) => id));
          expect(rows.slice(2).toSorted()).toEqual(theirs.toSorted());
          expect(editor.snapshot().document).toEqual(server.document);
        },
      ),
      { numRuns: 60 },
    );
  });
});
