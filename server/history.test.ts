import { expect, it } from "vitest";
import { setTitle } from "../core/design/edits/study";
import { applyEdit } from "../core/design/edits/edit";
import { freshOwner, freshStore } from "../tests/support/store";
import type { Store } from "./database/open";
import { historyOf, nameVersion } from "./history";
import { createStudy, documentAt, findStudy, saveEdit, type Study } from "./studies";

/** A study whose titles were saved one after the other, at the given minutes of an hour. */
async function edited(...minutes: number[]): Promise<{ store: Store; study: Study }> {
  const store = await freshStore();
  const owner = await freshOwner(store);
  const made = await createStudy(store, owner, "Title 1");
  let document = made.document;
  for (const [index, minute] of minutes.entries()) {
    const { document: next, patches, inverse } = applyEdit(document, setTitle(`Title ${index + 2}`));
    document = next;
    expect(await saveEdit(store, made.id, index + 1, patches, inverse)).toMatchObject({ ok: true });
    await store.db
      .updateTable("study_revision")
      .set({ saved_at: new Date(Date.parse("2026-11-20T10:00:00Z") + minute * 60_000).toISOString() })
      .where("study_id", "=", made.id)
      .where("revision", "=", index + 2)
      .execute();
  }
  await store.db
    .updateTable("study")
    .set({ created_at: "2026-11-20T09:59:00.000Z" })
    .where("id", "=", made.id)
    .execute();
  return { store, study: (await findStudy(store, owner, made.code)) as Study };
}

it("has a point at the beginning, before each pause of ten minutes, and the newest", async () => {
  const { store, study } = await edited(0, 1, 2, 20, 21);
  const points = await historyOf(store, study);
  expect(points.map(({ revision, saves }) => [revision, saves])).toEqual([
    [6, 2],
    [4, 3],
    [1, 1],
  ]);
});

it("has a point after an hour without a pause", async () => {
  const { store, study } = await edited(...Array.from({ length: 12 }, (_, index) => index * 8));
  const points = await historyOf(store, study);
  expect(points.length).toBe(3);
});

it("gives names, changes and takes them away, and puts together what a version was", async () => {
  const { store, study } = await edited(0, 1, 2);
  await nameVersion(store, study, 2, "Before the pilot");
  expect((await historyOf(store, study)).map(({ revision, name }) => [revision, name])).toEqual([
    [4, null],
    [2, "Before the pilot"],
    [1, null],
  ]);
  expect((await documentAt(store, study, 2))?.title).toBe("Title 2");
  expect((await documentAt(store, study, 1))?.title).toBe("Title 1");
  expect(await documentAt(store, study, 9)).toBe(null);
  await nameVersion(store, study, 2, " ");
  expect((await historyOf(store, study)).map(({ revision }) => revision)).toEqual([4, 1]);
});
