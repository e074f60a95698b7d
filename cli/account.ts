import { createInterface } from "node:readline";
import { Writable } from "node:stream";
import { accountByEmail, closeAccount, createAccount, openAnew } from "../server/accounts";
import { signOut } from "../server/sign-ins";
import type { Store } from "../server/database/open";
import { leastPassword, mostPassword } from "../core/shape/password";
import { Plain } from "./arguments";

type WithStore = <T>(work: (store: Store) => Promise<T>) => Promise<T>;

/** `account add|password|close EMAIL`. */
export async function changeAccount(
  what: string | undefined,
  email: string | undefined,
  name: string | undefined,
  withStore: WithStore,
): Promise<number> {
  if (what !== "add" && what !== "password" && what !== "close")
    throw new Plain("Say what to do: ./lapwing account add EMAIL, account password EMAIL or account close EMAIL.");
  if (!email || !/^[^\s@]+@[^\s@]+$/.test(email)) throw new Plain("Name the account by its e-mail address.");
  return withStore(async (store) => {
    const there = await accountByEmail(store, email);
    if (what === "add") {
      if (there) throw new Plain(`There is already an account ${email}. Set its password with account password.`);
      const made = await createAccount(store, email, name ?? email.split("@")[0] ?? email, await password());
      if (!made.ok) throw new Plain(made.reason);
      await signOut(store, made.secret);
      console.log(`The account ${made.account.email} can sign in now.`);
      return 0;
    }
    if (!there) throw new Plain(`There is no account ${email} in this database.`);
    if (what === "password") {
      await openAnew(store, there.id, await password());
      console.log(`The password of ${there.email} is set. It is signed in nowhere now, and no code is asked for.`);
    } else {
      await closeAccount(store, there.id);
      console.log(
        `Nobody can sign in to ${there.email} any more. Its studies are still there; account password opens it again.`,
      );
    }
    return 0;
  });
}

/** The password as it is typed, unseen, or the first line of the input. */
async function password(): Promise<string> {
  const isTyped = process.stdin.isTTY === true;
  if (isTyped) process.stderr.write(`Password, at least ${leastPassword} characters: `);
  const lines = createInterface({
    input: process.stdin,
    output: new Writable({ write: (_chunk, _encoding, done) => done() }),
    terminal: isTyped,
  });
  const typed = await new Promise<string>((resolve) => {
    lines.once("line", resolve);
    lines.once("close", () => resolve(""));
  });
  lines.close();
  if (isTyped) process.stderr.write("\n");
  if (typed.length < leastPassword || typed.length > mostPassword)
    throw new Plain(`The password should have ${leastPassword} to ${mostPassword} characters; nothing was changed.`);
  return typed;
}
