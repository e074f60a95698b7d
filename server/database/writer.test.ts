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

it("does what comes together in few commits, each piece undone by itself when it fails, and tells only after the commit", async () => {
  const store = await freshStore();
  let commits = 0;
  const start = store.db.startTransaction.bind(store.db);
  store.db.startTransaction = () => {
    commits++;
    return start();
  };
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
  expect(commits).toBe(1);
  for (const [index, outcome] of outcomes.entries())
    expect(outcome.status).toBe([3, 7].includes(index % 10) ? "rejected" : "fulfilled");
  expect(outcomes[13]).toMatchObject({ reason: { message: "piece 13" } });
  const stored = await store.db.selectFrom("account").select("id").execute();
  expect(stored.length).toBe(48);
});

it("fails all of a commit that fails, and goes on with the next", async () => {
  const store = await freshStore();
  const start = store.db.startTransaction.bind(store.db);
  let isFull = true;
  store.db.startTransaction = () => {
    const builder = start();
    const execute = builder.execute.bind(builder);
    builder.execute = async () => {
      const trx = await execute();
      const commit = trx.commit.bind(trx);
      trx.commit = () =>
        (isFull ? { ...commit(), execute: () => Promise.reject(new Error("disk full")) } : commit()) as ReturnType<
          typeof commit
        >;
      return trx;
    };
    return builder;
  };
  const add = (id: string) => store.write((trx) => trx.insertInto("account").values(row(id)).execute());
  const failed = await Promise.allSettled([add("a"), add("b")]);
  expect(failed.map((each) => each.status)).toEqual(["rejected", "rejected"]);
  isFull = false;
  await add("c");
  expect(await store.db.selectFrom("account").select("id").execute()).toEqual([{ id: "c" }]);
});
