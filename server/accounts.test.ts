import { describe, expect, it } from "vitest";
import { freshStore } from "~/tests/support/store";
import {
  accountOfSecret,
  changePassword,
  closeAccount,
  createAccount,
  createFirstAccount,
  lookAround,
  resetPassword,
  signIn,
} from "./accounts";
import { endSignIns, listSignIns, signOut } from "./sign-ins";

describe("accounts", () => {
  it("are signed in to with the right password only, whatever the case of the address", async () => {
    const store = await freshStore();
    await createFirstAccount(store, "Ann@Harbour.example", "Ann", "a long password");
    const right = await signIn(store, "ann@harbour.example", "a long password", { from: "here" });
    expect(right.ok).toBe(true);
    expect(await signIn(store, "ann@harbour.example", "another password", { from: "here" })).toEqual({
      ok: false,
      reason: "The address or the password is not right.",
    });
    expect(await signIn(store, "nobody@harbour.example", "a long password", { from: "here" })).toEqual({
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

  it("ask for a wait after too many wrong passwords, longer each time, from that computer to that account and nobody else", async () => {
    const store = await freshStore();
    await createAccount(store, "a@b.example", "A", "a long password");
    await createAccount(store, "c@d.example", "C", "a long password");
    const here = { from: "203.0.113.7" };
    for (let count = 0; count < 5; count++) await signIn(store, "a@b.example", "wrong password", here);
    const wait = (answer: Awaited<ReturnType<typeof signIn>>) => (answer.ok ? "" : answer.reason);
    expect(wait(await signIn(store, "a@b.example", "a long password", here))).toMatch(/Wait \d seconds/);
    // Whoever knows an address cannot lock its owner out, and one's own mistake does not shut other accounts.
    expect((await signIn(store, "a@b.example", "a long password", { from: "198.51.100.2" })).ok).toBe(true);
    expect((await signIn(store, "c@d.example", "a long password", here)).ok).toBe(true);
    const ago = new Date(Date.now() - 6000).toISOString();
    const pass = () => store.db.updateTable("sign_in_try").set({ at: ago }).execute();
    await pass();
    await signIn(store, "a@b.example", "wrong password", here);
    await pass();
    // The sixth wrong one: six seconds are not enough any more.
    expect(wait(await signIn(store, "a@b.example", "a long password", here))).toMatch(/Wait \d seconds/);
    await store.db
      .updateTable("sign_in_try")
      .set({ at: new Date(Date.now() - 20_000).toISOString() })
      .execute();
    expect((await signIn(store, "a@b.example", "a long password", here)).ok).toBe(true);
  });

  it("count tries before they check them, also when fifty come at once", async () => {
    const store = await freshStore();
    await createAccount(store, "a@b.example", "A", "a long password");
    const answers = await Promise.all(
      Array.from({ length: 50 }, (_, index) =>
        signIn(store, "a@b.example", index === 49 ? "a long password" : `wrong ${index}`, { from: "here" }),
      ),
    );
    expect(answers.filter((each) => each.ok).length).toBe(0);
    expect(answers.filter((each) => !each.ok && /not right/.test(each.reason)).length).toBe(5);
  });

  it("are made once when four first ones come at once", async () => {
    const store = await freshStore();
    const made = await Promise.all(
      ["a", "b", "c", "d"].map((name) => createFirstAccount(store, `${name}@x.example`, name, "a long password")),
    );
    expect(made.filter(({ ok }) => ok).length).toBe(1);
    expect(await store.db.selectFrom("account").select("id").execute()).toHaveLength(1);
  });

  it("end where they are signed in after a time without use, are listed, and ended one by one or all", async () => {
    const store = await freshStore();
    const made = await createAccount(store, "a@b.example", "A", "a long password");
    const [short, long] = await Promise.all(
      [false, true].map((stays) =>
        signIn(store, "a@b.example", "a long password", { from: "here", browser: "a browser", stays }),
      ),
    );
    if (!made.ok || !short?.ok || !long?.ok) throw new Error("not signed in");
    const open = await listSignIns(store, made.account.id, short.secret);
    expect(open.map(({ isThis, stays, browser }) => [isThis, stays, browser])).toEqual(
      expect.arrayContaining([
        [true, false, "a browser"],
        [false, true, "a browser"],
        [false, false, ""],
      ]),
    );
    const passed = (hours: number) => new Date(Date.now() - hours * 3_600_000).toISOString();
    const age = async (hours: number) => {
      for (const { token_hash, expires_at } of await store.db.selectFrom("sign_in").selectAll().execute())
        await store.db
          .updateTable("sign_in")
          .set({
            expires_at: new Date(Date.parse(expires_at) - hours * 3_600_000).toISOString(),
            seen_at: passed(hours),
          })
          .where("token_hash", "=", token_hash)
          .execute();
    };
    await age(11);
    // Being used, it lasts twelve hours from now.
    expect(await accountOfSecret(store, short.secret)).not.toBeNull();
    await age(11);
    expect(await accountOfSecret(store, short.secret)).not.toBeNull();
    await age(13);
    expect(await accountOfSecret(store, short.secret)).toBeNull();
    expect(await accountOfSecret(store, long.secret)).not.toBeNull();
    const again = await signIn(store, "a@b.example", "a long password", { from: "here" });
    if (!again.ok) throw new Error(again.reason);
    await endSignIns(store, made.account.id, { allBut: again.secret });
    expect(await accountOfSecret(store, long.secret)).toBeNull();
    expect(await accountOfSecret(store, again.secret)).not.toBeNull();
  });

  it("change their password with the present one, which ends all other sign-ins; closed, they open nothing", async () => {
    const store = await freshStore();
    const made = await createAccount(store, "a@b.example", "A", "a long password");
    const here = await signIn(store, "a@b.example", "a long password", { from: "here" });
    if (!made.ok || !here.ok) throw new Error("not signed in");
    const where = { from: "here", secret: here.secret };
    expect(await changePassword(store, made.account, "not mine", "another password", where)).toMatchObject({
      ok: false,
      reason: "This is not your password.",
    });
    expect(await changePassword(store, made.account, "a long password", "another password", where)).toEqual({
      ok: true,
    });
    expect(await accountOfSecret(store, made.secret)).toBeNull();
    expect(await accountOfSecret(store, here.secret)).not.toBeNull();
    expect((await signIn(store, "a@b.example", "a long password", { from: "x" })).ok).toBe(false);
    await closeAccount(store, made.account.id);
    expect(await accountOfSecret(store, here.secret)).toBeNull();
    expect((await signIn(store, "a@b.example", "another password", { from: "y" })).ok).toBe(false);
    await resetPassword(store, made.account.id, "a third password");
    expect((await signIn(store, "a@b.example", "a third password", { from: "z" })).ok).toBe(true);
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
    await createAccount(store, "demo@b.example", "demo", "a long password", { isDemo: true });
    expect((await accountOfSecret(store, (await lookAround(store)) ?? ""))?.isDemo).toBe(true);
  });
});
