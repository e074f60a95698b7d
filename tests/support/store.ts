import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach } from "vitest";
import { createAccount } from "~/server/accounts";
import { openStore, type Store } from "~/server/database/open";
import type { EntryLink } from "~/server/links";
import { freezeRelease } from "~/server/releases";
import { addStudy, type Study } from "~/server/studies";
import type { StudyDocument } from "~/core/design/document";
import { freshDatabase, postgresAddress } from "./postgres";
import { plainStudy } from "./studies";

const folders: string[] = [];
const stores: Store[] = [];
afterEach(async () => {
  for (const store of stores.splice(0)) await store.close();
  for (const folder of folders.splice(0)) rmSync(folder, { recursive: true, force: true });
});

/** Whether the tests run on PostgreSQL. */
export const isOnPostgres = process.env[postgresAddress] !== undefined;
const databases = new Map<string, Promise<string>>();

/** The address of the database that belongs to a folder, made when it is first asked for; none where the tests run on SQLite. */
export function databaseOf(folder: string): Promise<string> | undefined {
  if (!isOnPostgres) return undefined;
  const made = databases.get(folder) ?? freshDatabase();
  databases.set(folder, made);
  return made;
}

export function freshFolder(): string {
  const folder = mkdtempSync(join(tmpdir(), "lapwing-test-"));
  folders.push(folder);
  return folder;
}

/**
 * A real database of its own, closed and removed after the test: in a folder, or on PostgreSQL where the tests run there.
 * The same folder again leads to the same database.
 */
export async function freshStore(folder: string = freshFolder()): Promise<Store> {
  const opened = await openStore(folder, await databaseOf(folder));
  if (!opened.ok) throw new Error(opened.reason);
  stores.push(opened.store);
  return opened.store;
}

export async function freshOwner(store: Store, email = "owner@lapwing.example"): Promise<string> {
  const made = await createAccount(store, email, "owner", "a long password");
  if (!made.ok) throw new Error(made.reason);
  return made.account.id;
}

/** A store with a study, a release of it and its open link. */
export async function released(
  document: StudyDocument = plainStudy(),
  folder?: string,
): Promise<{ store: Store; study: Study; link: EntryLink }> {
  const store = await freshStore(folder);
  const study = await addStudy(store, await freshOwner(store), document);
  const frozen = await freezeRelease(store, study, "First release.");
  if (!frozen.ok || !frozen.link) throw new Error("not released");
  return { store, study, link: frozen.link };
}
