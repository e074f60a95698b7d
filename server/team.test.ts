import { sql } from "kysely";
import { describe, expect, it } from "vitest";
import { freshOwner, freshStore } from "../tests/support/store";
import { plainStudy } from "../tests/support/studies";
import { closeAndHandOver, listAccounts, setAdmin } from "./account-list";
import { accountByEmail, accountOfSecret, createFirstAccount, signIn } from "./accounts";
import type { Store } from "./database/open";
import { deleteStudy } from "./forgetting";
import { acceptForgotten, acceptInvite, forgotten, invite, inviteOf, openInvites, takeBack } from "./invites";
import { setLabels } from "./labels";
import { addLab, changeLab, labsOf } from "./labs";
import { rolesIn } from "./rights";
import { accountOfKey, endKey, keysOf, makeKey } from "./script-keys";
import { setShare, sharesOf } from "./sharing";
import { addStudy, findStudy, setBinned } from "./studies";
import { listStudies } from "./study-list";
import { deedsIn, noteDeed, noteLook } from "./study-log";

const where = { from: "here" };
const by = "the owner";
async function team() {
  const store = await freshStore();
  const [ann, ben, cleo] = [
    await freshOwner(store, "ann@lapwing.example"),
    await freshOwner(store, "ben@lapwing.example"),
    await freshOwner(store, "cleo@lapwing.example"),
  ];
  const study = await addStudy(store, ann, plainStudy());
  const share = (email: string, ...roles: Parameters<typeof setShare>[3]) =>
    setShare(store, study, { email: `${email}@lapwing.example` }, roles, by);
  return { store, ann, ben, cleo, study, share };
}
const codes = async (store: Store, account: string) => (await listStudies(store, account)).map(({ code }) => code);

describe("a study that is shared", () => {
  it("is found by those it is shared with, as what they are, and by nobody else", async () => {
    const { store, ben, cleo, study, share } = await team();
    expect(await share("ben", "analyst", "designer")).toBeNull();
    expect(await findStudy(store, ben, study.code)).toMatchObject({ id: study.id, roles: ["designer", "analyst"] });
    expect(await findStudy(store, cleo, study.code)).toBeNull();
    expect([await codes(store, ben), await codes(store, cleo)]).toEqual([[study.code], []]);
    expect((await listStudies(store, ben))[0]).toMatchObject({
      owner: "owner",
      shared: 1,
      roles: ["designer", "analyst"],
    });
    expect(await share("ben", "reader")).toBeNull();
    expect(await rolesIn(store.db, ben, study.id)).toEqual(["reader"]);
    expect(await share("ben")).toBeNull();
    expect(await rolesIn(store.db, ben, study.id)).toEqual([]);
    expect(await share("nobody", "reader")).toMatch("Nobody here has the address nobody@lapwing.example");
    expect((await deedsIn(store, study, { kind: "rights" })).map(({ what }) => what)).toEqual([
      "owner (ben@lapwing.example) no longer works on this study.",
      "owner (ben@lapwing.example) is a reader now.",
      "owner (ben@lapwing.example) is a designer and an analyst now.",
    ]);
  });

  it("with a laboratory is shared with whoever belongs to it just now, beside what they are by themselves", async () => {
    const { store, ann, ben, cleo, study, share } = await team();
    const lab = await addLab(store, ann, "Shore");
    expect(await changeLab(store, ann, lab, { email: "Ben@lapwing.example" })).toBeNull();
    expect(await setShare(store, study, { lab }, ["assistant"], by)).toBeNull();
    await share("ben", "reader");
    expect(await rolesIn(store.db, ben, study.id)).toEqual(["assistant", "reader"]);
    expect(await rolesIn(store.db, ann, study.id)).toEqual(["owner", "assistant"]);
    expect(await rolesIn(store.db, cleo, study.id)).toEqual([]);
    expect((await sharesOf(store, study.id)).map(({ name, roles }) => [name, roles])).toEqual([
      ["owner", ["owner"]],
      ["owner", ["reader"]],
      ["Shore", ["assistant"]],
    ]);
    expect(await changeLab(store, ben, lab, { name: "Mine" })).toMatch("Only those who head");
    expect(await changeLab(store, cleo, lab, { email: "cleo@lapwing.example" })).toMatch("no such laboratory");
    expect(await changeLab(store, ann, lab, { account: ann, as: null })).toMatch("always has somebody who heads it");
    expect(await changeLab(store, ben, lab, { account: ben, as: null })).toBeNull();
    expect(await rolesIn(store.db, ben, study.id)).toEqual(["reader"]);
    expect(await labsOf(store, ben)).toEqual([]);
    // The last to leave takes the laboratory with them.
    expect(await changeLab(store, ann, lab, { account: ann, as: null })).toBeNull();
    expect(await sharesOf(store, study.id)).toHaveLength(2);
  });

  it("always has an owner: the last cannot go, and who goes hands over", async () => {
    const { store, ann, ben, study, share } = await team();
    expect(await share("ann")).toMatch("always has an owner");
    await share("ben", "owner");
    expect(await share("ann", "analyst")).toBeNull();
    expect(await rolesIn(store.db, ann, study.id)).toEqual(["analyst"]);
    expect(await rolesIn(store.db, ben, study.id)).toEqual(["owner"]);
    expect(await share("ben", "reader")).toMatch("always has an owner");
  });

  it("takes shares, labels and keys with it when it is deleted; what was done stays written down", async () => {
    const { store, ann, study, share } = await team();
    await share("ben", "analyst");
    expect(await setLabels(store, study.id, [" pilot ", "spring  term", "pilot", ""])).toBeNull();
    expect((await listStudies(store, ann))[0]?.labels).toEqual(["pilot", "spring term"]);
    expect(await setLabels(store, study.id, ["x".repeat(41)])).toMatch("at most 40");
    await makeKey(store, study, { id: ann }, { name: "script", days: 3, by });
    await setBinned(store, study.id, true);
    expect(await deleteStudy(store, study, { by })).toEqual({ ok: true });
    for (const table of ["study_share", "study_label", "script_key"] as const)
      expect(await store.db.selectFrom(table).selectAll().execute()).toEqual([]);
    expect((await store.db.selectFrom("deed").selectAll().execute()).length).toBeGreaterThan(2);
  });
});

describe("the log of a study", () => {
  it("cannot be changed, nor shortened", async () => {
    const { store, study } = await team();
    await noteDeed(store.db, { code: study.code, by, what: "Released.", kind: "released" });
    await expect(store.db.updateTable("deed").set({ what: "Nothing." }).execute()).rejects.toThrow("never changed");
    await expect(store.db.deleteFrom("deed").execute()).rejects.toThrow("never changed");
    await expect(sql`update deed set by_whom = 'another'`.execute(store.db)).rejects.toThrow();
    expect(await deedsIn(store, study)).toMatchObject([{ by, what: "Released.", kind: "released" }]);
  });

  it("holds a look once in a while for each who looks, and nothing of another study with the same code", async () => {
    const { store, study } = await team();
    for (const who of ["ann", "ben", "ann", "ann"])
      await noteLook(store.db, { code: study.code, by: who, what: "Seen." });
    expect((await deedsIn(store, study, { kind: "opened" })).map((deed) => deed.by).toSorted()).toEqual(["ann", "ben"]);
    const later = new Date(Date.now() + 1000).toISOString();
    await store.db.updateTable("study").set({ created_at: later }).where("id", "=", study.id).execute();
    expect(await deedsIn(store, study)).toEqual([]);
  });
});

describe("a key for scripts", () => {
  it("opens the data of its study while it lasts and its owner may see them, and is stored as a hash", async () => {
    const { store, ann, ben, study, share } = await team();
    await share("ben", "analyst");
    const made = await makeKey(store, study, { id: ben }, { name: "nightly", days: 2, by });
    const key = "key" in made ? made.key : "";
    expect(await accountOfKey(store, key, study.id)).toMatchObject({ id: ben, key: "nightly" });
    const other = await addStudy(store, ann, plainStudy());
    expect(await accountOfKey(store, key, other.id)).toBeNull();
    expect(await accountOfKey(store, `${key}x`, study.id)).toBeNull();
    expect(JSON.stringify(await store.db.selectFrom("script_key").selectAll().execute())).not.toContain(key);
    // The owner's right ends, and comes back.
    await share("ben", "designer");
    expect(await accountOfKey(store, key, study.id)).toBeNull();
    expect((await keysOf(store, study.id)).map(({ opens }) => opens)).toEqual([false]);
    await share("ben", "analyst");
    expect(await accountOfKey(store, key, study.id)).not.toBeNull();
    await store.db
      .updateTable("script_key")
      .set({ expires_at: new Date(Date.now() - 1).toISOString() })
      .execute();
    expect(await accountOfKey(store, key, study.id)).toBeNull();
  });

  it("is ended by whose it is, and by an owner of the study", async () => {
    const { store, ann, ben, study } = await team();
    await makeKey(store, study, { id: ben }, { name: "one", days: 2, by });
    const [key] = await keysOf(store, study.id);
    const id = key?.id ?? "";
    expect(await endKey(store, study, id, { account: ann, anyones: false, by })).toMatch("no such key of yours");
    expect(await endKey(store, study, id, { account: ann, anyones: true, by })).toBeNull();
    expect(await keysOf(store, study.id)).toEqual([]);
  });
});

describe("accounts", () => {
  it("of the first who came can invite; an invitation makes one account, also when it is used by many at once", async () => {
    const store = await freshStore();
    const first = await createFirstAccount(store, "ann@lapwing.example", "Ann", "a long password", where);
    expect(first).toMatchObject({ ok: true, account: { isAdmin: true } });
    const made = await invite(store, { email: "Ben@lapwing.example", by });
    const secret = "secret" in made ? made.secret : "";
    expect(await inviteOf(store, secret)).toMatchObject({ kind: "account", email: "ben@lapwing.example" });
    expect(await openInvites(store)).toHaveLength(1);
    const all = await Promise.all(
      ["b1", "b2", "b3"].map((name) =>
        acceptInvite(store, secret, { email: `${name}@lapwing.example`, name, password: "another password" }, where),
      ),
    );
    expect(all.filter(({ ok }) => ok)).toHaveLength(1);
    expect(await inviteOf(store, secret)).toBeNull();
    expect((await listAccounts(store)).map(({ isAdmin }) => isAdmin)).toEqual([true, false]);
  });

  it("refuse an address that is taken, and leave the invitation open for another", async () => {
    const { store } = await team();
    expect(await invite(store, { email: "ann@lapwing.example", by })).toMatchObject({
      reason: expect.any(String) as string,
    });
    const made = await invite(store, { email: "", by });
    const secret = "secret" in made ? made.secret : "";
    const taken = { email: "ann@lapwing.example", name: "Ann", password: "another password" };
    expect(await acceptInvite(store, secret, taken, where)).toMatchObject({ ok: false });
    expect(await acceptInvite(store, secret, { ...taken, email: "dan@lapwing.example" }, where)).toMatchObject({
      ok: true,
    });
    const [open] = await Promise.all([invite(store, { email: "eve@lapwing.example", by })]);
    const [listed] = await openInvites(store);
    await takeBack(store, listed?.id ?? "");
    expect(await inviteOf(store, "secret" in open ? open.secret : "")).toBeNull();
  });

  it("get a new password by a link that works once and ends every sign-in", async () => {
    const { store } = await team();
    const before = await signIn(store, "ann@lapwing.example", "a long password", where);
    const ann = await accountByEmail(store, "ann@lapwing.example");
    if (!ann || !before.ok) throw new Error("no account");
    const old = await forgotten(store, ann, by);
    const secret = await forgotten(store, ann, by);
    expect(await acceptForgotten(store, old, "a fresh password", where)).toMatchObject({ ok: false });
    expect(await acceptForgotten(store, secret, "a fresh password", where)).toMatchObject({ ok: true });
    expect(await acceptForgotten(store, secret, "a third password", where)).toMatchObject({ ok: false });
    expect(await accountOfSecret(store, before.secret)).toBeNull();
    expect(await signIn(store, "ann@lapwing.example", "a long password", where)).toMatchObject({ ok: false });
    await store.db.updateTable("invite").set({ expires_at: "2000-01-01T00:00:00.000Z" }).execute();
    const late = await forgotten(store, ann, by);
    await store.db.updateTable("invite").set({ expires_at: "2000-01-01T00:00:00.000Z" }).execute();
    expect(await acceptForgotten(store, late, "a third password", where)).toMatchObject({ ok: false });
  });

  it("are closed without losing studies: another owner has them then, or who is named", async () => {
    const { store, ann, ben, cleo, study, share } = await team();
    const alone = await addStudy(store, ann, plainStudy());
    const lab = await addLab(store, ann, "Shore");
    await changeLab(store, ann, lab, { email: "ben@lapwing.example" });
    await share("ben", "owner");
    expect(await closeAndHandOver(store, ann, { id: ann, by })).toMatch("another administrator");
    expect(await closeAndHandOver(store, ann, { id: cleo, by })).toMatch("always an administrator");
    await setAdmin(store, cleo, true);
    expect(await closeAndHandOver(store, ann, { id: cleo, by })).toBeNull();
    expect([await rolesIn(store.db, ben, study.id), await rolesIn(store.db, cleo, alone.id)]).toEqual([
      ["owner"],
      ["owner"],
    ]);
    expect(await rolesIn(store.db, cleo, study.id)).toEqual([]);
    // A laboratory that only she headed is headed by who is left in it.
    expect((await labsOf(store, ben)).map(({ members }) => members.map(({ email, heads }) => [email, heads]))).toEqual([
      [["ben@lapwing.example", true]],
    ]);
    expect(await signIn(store, "ann@lapwing.example", "a long password", where)).toMatchObject({ ok: false });
    expect(await setAdmin(store, cleo, false)).toMatch("always an administrator");
    expect(await closeAndHandOver(store, ben, { id: ann, by })).toMatch("somebody who is here");
  });
});
