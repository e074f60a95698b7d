import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { patched, type Patch } from "~/core/design/edits/edit";
import { setSettings, setTitle } from "~/core/design/edits/study";
import type { StudyDocument } from "~/core/design/types";
import { plainStudy } from "~/tests/support/studies";
import { StudyEditor } from "./study-editor";

/** A server of one study: takes patches on its present revision, as the real one does. */
class FakeServer {
  document: StudyDocument = plainStudy();
  revision = 1;
  requests = 0;
  isAway = false;
  refuses: string[] | null = null;

  fetch = (_: string, init: { body: string }): Promise<Response> => {
    this.requests++;
    if (this.isAway) return Promise.reject(new TypeError("no network"));
    const { base, patches } = JSON.parse(init.body) as { base: number; patches: Patch[] };
    if (this.refuses) return Promise.resolve(Response.json({ mistakes: this.refuses }, { status: 422 }));
    if (base !== this.revision)
      return Promise.resolve(Response.json({ revision: this.revision, document: this.document }, { status: 409 }));
    this.document = patched(this.document, patches);
    this.revision++;
    return Promise.resolve(Response.json({ revision: this.revision, savedAt: "2026-11-23T10:00:00Z" }));
  };
}

let server: FakeServer;
let editor: StudyEditor;
const title = () => editor.snapshot().document.title;
const save = () => editor.snapshot().save.kind;
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
    expect([save(), editor.hasUnsent]).toEqual(["waiting", true]);
    editor.apply(setSettings({ seed: "FOG" }));
    server.isAway = false;
    await pass(5000);
    expect([save(), server.document.title, server.document.settings.seed]).toEqual(["saved", "A", "FOG"]);
  });

  it("shows why an edit was refused and saves once it is mended", async () => {
    server.refuses = ["the study: title is missing."];
    editor.apply(setTitle(""));
    await pass(900);
    expect(editor.snapshot().save).toEqual({ kind: "refused", mistakes: ["the study: title is missing."] });
    server.refuses = null;
    editor.apply(setTitle("Mended"));
    await pass(900);
    expect([save(), server.document.title]).toEqual(["saved", "Mended"]);
  });

  it("says whether all is saved when asked to save now", async () => {
    editor.apply(setTitle("A"));
    expect(await editor.saveNow()).toBe(true);
    server.isAway = true;
    editor.apply(setTitle("B"));
    expect(await editor.saveNow()).toBe(false);
  });

  describe("when the study was changed elsewhere", () => {
    const theirs = () => ({ ...plainStudy(), title: "Theirs" });
    beforeEach(async () => {
      server.document = theirs();
      server.revision = 2;
      editor.apply(setTitle("Mine"));
      await pass(900);
    });

    it("sends nothing more until one is chosen, and has both at hand", async () => {
      editor.apply(setSettings({ seed: "LATER" }));
      await pass(5000);
      expect(editor.snapshot().save).toEqual({ kind: "conflict", theirs: theirs(), revision: 2 });
      expect([title(), server.document.title]).toEqual(["Mine", "Theirs"]);
    });

    it("takes theirs, and undo brings mine back as a new edit", async () => {
      editor.settle("theirs");
      expect([title(), save()]).toEqual(["Theirs", "saved"]);
      editor.undo();
      await pass(900);
      expect([title(), server.document.title, server.revision]).toEqual(["Mine", "Mine", 3]);
    });

    it("puts mine on top of theirs as a new edit", async () => {
      editor.settle("mine");
      await pass(900);
      expect([save(), server.document.title, server.revision]).toEqual(["saved", "Mine", 3]);
    });

    it("leads with undo over theirs and back through this window's own history, whichever was chosen", async () => {
      const own = plainStudy().title;
      editor.settle("mine");
      const titles: string[] = [];
      while (editor.snapshot().canUndo) {
        editor.undo();
        titles.push(title());
      }
      expect(titles).toEqual(["Theirs", "Mine", own]);
      while (editor.snapshot().canRedo) editor.redo();
      await pass(900);
      expect([title(), save(), server.document.title]).toEqual(["Mine", "saved", "Mine"]);
    });
  });
});
