import { expect, it } from "vitest";
import { freshStore } from "~/tests/support/store";

const row = (id: string) => ({
  id,
  email: `${id}@lapwing.example`,
  name: id,
  password_hash: "-",
  is_demo: 0 as const,
  created_at: "2026-01-01T00:00:00Z",
});
type Store = Awaited<ReturnType<typeof freshStore>>;

/** Counts the transactions of a store, and lets all of them fail where `fails` says so. */
function watch(store: Store, fails: () => boolean = () => false): { count: number } {
  const counted = { count: 0 };
  const transaction = store.db.transaction.bind(store.db);
  store.db.transaction = () => {
    counted.count++;
    const builder = transaction();
    const execute = builder.execute.bind(builder);
    builder.execute = (work) =>
      execute(async (trx) => {
        const value = await work(trx);
        if (fails()) throw new Error("disk full");
        return value;
      });
    return builder;
  };
  return counted;
}
const add = (store: Store, id: string) => store.write((trx) => trx.insertInto("account").values(row(id)).execute());
const ids = async (store: Store) =>
  (await store.db.selectFrom("account").select("id").orderBy("id").execute()).map(({ id }) => id);

it("does what comes together in one commit, and tells all of it only then", async () => {
  const store = await freshStore();
  const counted = watch(store);
  await Promise.all(Array.from({ length: 60 }, (_, index) => add(store, `a${index}`)));
  expect(counted.count).toBe(1);
  expect((await ids(store)).length).toBe(60);
});

it("lets only those fail that fail by themselves, and keeps nothing of them", async () => {
  const store = await freshStore();
  const outcomes = await Promise.allSettled(
    Array.from({ length: 60 }, (_, index) =>
      store.write(async (trx) => {
        await trx
          .insertInto("account")
          .values(row(`a${index}`))
          .execute();
        if (index % 10 === 3) throw new Error(`piece ${index}`);
        // The number is taken already: the statement itself fails.
        if (index % 10 === 7)
          await trx
            .insertInto("account")
            .values(row(`a${index}`))
            .execute();
        return index;
      }),
    ),
  );
  for (const [index, outcome] of outcomes.entries())
    expect(outcome.status).toBe([3, 7].includes(index % 10) ? "rejected" : "fulfilled");
  expect(outcomes[13]).toMatchObject({ reason: { message: "piece 13" } });
  expect((await ids(store)).length).toBe(48);
});

it("fails all while nothing can be committed, and goes on afterwards", async () => {
  const store = await freshStore();
  let isFull = true;
  watch(store, () => isFull);
  const failed = await Promise.allSettled([add(store, "a"), add(store, "b")]);
  expect(failed.map(({ status }) => status)).toEqual(["rejected", "rejected"]);
  isFull = false;
  await add(store, "c");
  expect(await ids(store)).toEqual(["c"]);
});
