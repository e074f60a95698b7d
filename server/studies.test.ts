import { describe, expect, it } from "vitest";
import { freshOwner, freshStore, released } from "~/tests/support/store";
import { plainStudy } from "~/tests/support/studies";
import { applyEdit } from "../core/design/edits/edit";
import { setTitle } from "../core/design/edits/study";
import { addWave } from "./new-wave";
import { setWave, wavesOf } from "./waves";
import { addStudy, createStudy, duplicateStudy, findStudy, saveEdit, setBinned } from "./studies";
import { listStudies } from "./study-list";

const titled = (document: Parameters<typeof applyEdit>[0], title: string) => applyEdit(document, setTitle(title));

describe("studies", () => {
  it("are found by their owner only", async () => {
    const store = await freshStore();
    const [ann, ben] = [await freshOwner(store), await freshOwner(store, "ben@lapwing.example")];
    const { code } = await createStudy(store, ann, "Tides");
    expect((await findStudy(store, ann, code))?.document.title).toBe("Tides");
    expect(await findStudy(store, ben, code)).toBeNull();
    expect(await listStudies(store, ben)).toEqual([]);
  });

  it("take an edit on their present revision and keep it", async () => {
    const store = await freshStore();
    const study = await addStudy(store, await freshOwner(store), plainStudy());
    const { patches, inverse } = titled(study.document, "New title");
    expect(await saveEdit(store, study.id, 1, patches, inverse)).toMatchObject({ ok: true, revision: 2 });
    expect((await findStudy(store, study.ownerId, study.code))?.document.title).toBe("New title");
    expect(await store.db.selectFrom("study_revision").select("revision").execute()).toEqual([{ revision: 2 }]);
  });

  it("are never overwritten from an older copy: the newer version is given back", async () => {
    const store = await freshStore();
    const study = await addStudy(store, await freshOwner(store), plainStudy());
    const [mine, theirs] = [titled(study.document, "Mine"), titled(study.document, "Theirs")];
    await saveEdit(store, study.id, 1, theirs.patches, theirs.inverse);
    const late = await saveEdit(store, study.id, 1, mine.patches, mine.inverse);
    expect(late).toMatchObject({ ok: false, kind: "newer", revision: 2, document: { title: "Theirs" } });
    expect((await findStudy(store, study.ownerId, study.code))?.document.title).toBe("Theirs");
  });

  it("of two edits at once take exactly one", async () => {
    const store = await freshStore();
    const study = await addStudy(store, await freshOwner(store), plainStudy());
    const edits = ["A", "B", "C", "D"].map((title) => titled(study.document, title));
    const results = await Promise.all(
      edits.map(({ patches, inverse }) => saveEdit(store, study.id, 1, patches, inverse)),
    );
    expect(results.filter(({ ok }) => ok)).toHaveLength(1);
  });

  it("refuse an edit that would leave no valid study, and patches that do not fit", async () => {
    const store = await freshStore();
    const study = await addStudy(store, await freshOwner(store), plainStudy());
    const empty = await saveEdit(store, study.id, 1, [{ op: "replace", path: ["title"], value: "" }], []);
    expect(empty).toMatchObject({ ok: false, kind: "refused", mistakes: [expect.stringMatching(/title is missing/)] });
    expect(
      await saveEdit(store, study.id, 1, [{ op: "replace", path: ["parts", "gone", "name"], value: "x" }], []),
    ).toMatchObject({ ok: false, kind: "refused" });
    expect(
      await saveEdit(store, study.id, 1, [{ op: "add", path: ["__proto__", "polluted"], value: true }], []),
    ).toMatchObject({ ok: false });
    expect(({} as { polluted?: boolean }).polluted).toBeUndefined();
    expect((await findStudy(store, study.ownerId, study.code))?.revision).toBe(1);
  });

  it("are duplicated under a code of their own, binned and restored", async () => {
    const store = await freshStore();
    const study = await addStudy(store, await freshOwner(store), plainStudy());
    const copy = await duplicateStudy(store, study.ownerId, study);
    expect(copy.code).not.toBe(study.code);
    await setBinned(store, study.id, true);
    const lines = await listStudies(store, study.ownerId);
    expect(lines.map(({ title, binnedAt }) => [title, binnedAt !== null])).toEqual(
      expect.arrayContaining([
        ["Harbour lights, copy", false],
        ["Harbour lights", true],
      ]),
    );
    await setBinned(store, study.id, false);
    expect((await listStudies(store, study.ownerId)).every(({ binnedAt }) => binnedAt === null)).toBe(true);
  });
});

it("a study is collecting from its first release until all its waves are closed, and wants what they want together", async () => {
  const { store, study, link } = await released();
  const line = async () => {
    const [found] = await listStudies(store, study.ownerId);
    return [found?.work, found?.target];
  };
  expect(await line()).toEqual(["collecting", null]);
  const [first] = await wavesOf(store.db, study.id);
  await addWave(store, study.id, first!.releaseId, "Retest");
  const waves = await wavesOf(store.db, study.id);
  for (const { id, plan } of waves) await setWave(store, study.id, id, { plan: { ...plan, target: 20 } });
  await setWave(store, study.id, link.waveId, { state: "closed" });
  expect(await line()).toEqual(["collecting", 40]);
  await setWave(store, study.id, waves[1]!.id, { state: "paused" });
  expect(await line()).toEqual(["collecting", 40]);
  await setWave(store, study.id, waves[1]!.id, { state: "closed" });
  expect(await line()).toEqual(["closed", 40]);
});
