import { describe, expect, it } from "vitest";
import { freshStore } from "~/tests/support/store";
import { accountOfSecret, createAccount, createFirstAccount, lookAround, signIn, signOut } from "./accounts";

describe("accounts", () => {
  it("are signed in to with the right password only, whatever the case of the address", async () => {
    const store = await freshStore();
    await createFirstAccount(store, "Ann@Harbour.example", "Ann", "a long password");
    const right = await signIn(store, "ann@harbour.example", "a long password", "here");
    expect(right.ok).toBe(true);
    expect(await signIn(store, "ann@harbour.example", "another password", "here")).toEqual({
      ok: false,
      reason: "The address or the password is not right.",
    });
    expect(await signIn(store, "nobody@harbour.example", "a long password", "here")).toEqual({
      ok: false,
      reason: "The address or the password is not right.",
    });
    if (!right.ok) return;
    expect((await accountOfSecret(store, right.secret))?.name).toBe("Ann");
    await signOut(store, right.secret);
    expect(await accountOfSecret(store, right.secret)).toBeNull();
  });

  it("keep no password and no secret in the database as it is", async () => {
    const store = await freshStore();
    const made = await createAccount(store, "a@b.example", "A", "a long password");
    const rows = JSON.stringify([
      await store.db.selectFrom("account").selectAll().execute(),
      await store.db.selectFrom("sign_in").selectAll().execute(),
    ]);
    expect(rows).not.toContain("a long password");
    expect(rows).toContain("$argon2id$");
    if (made.ok) expect(rows).not.toContain(made.secret);
  });

  it("ask for a wait after too many tries, also with the right password", async () => {
    const store = await freshStore();
    await createAccount(store, "a@b.example", "A", "a long password");
    for (let count = 0; count < 8; count++) await signIn(store, "a@b.example", "wrong password", "there");
    const locked = await signIn(store, "a@b.example", "a long password", "elsewhere");
    expect(locked).toMatchObject({ ok: false, reason: expect.stringMatching(/Too many tries/) });
  });

  it("are made freely only once, and addresses are used once", async () => {
    const store = await freshStore();
    expect((await createFirstAccount(store, "a@b.example", "A", "a long password")).ok).toBe(true);
    expect(await createFirstAccount(store, "c@d.example", "C", "a long password")).toMatchObject({ ok: false });
    expect(await createAccount(store, "A@b.example", "A", "a long password")).toMatchObject({ ok: false });
  });

  it("are looked around in without a password only where there is a demo account", async () => {
    const store = await freshStore();
    await createAccount(store, "a@b.example", "A", "a long password");
    expect(await lookAround(store)).toBeNull();
    await createAccount(store, "demo@b.example", "demo", "a long password", true);
    expect((await accountOfSecret(store, (await lookAround(store)) ?? ""))?.isDemo).toBe(true);
  });
});
