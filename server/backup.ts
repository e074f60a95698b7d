import { createWriteStream, existsSync } from "node:fs";
import { chmod, copyFile, mkdir, open, readdir, readFile, rename, rm, writeFile } from "node:fs/promises";
import { dirname, join } from "node:path";
import type { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { open as openZip, type Entry, type ZipFile as Unzipped } from "yauzl";
import { ZipFile } from "yazl";
import { tidyIn } from "./tidy/database";
import { copyTo, databaseIn, isInUse, isWhole } from "./database/sqlite";

/** What a backup holds: the database, media by their hashes, and the names of what was removed. */
const [database, removed] = ["lapwing.db", "removed.txt"];
const mediaName = /^media\/([0-9a-f]{64})$/;

/** Writes everything in a data folder into one zip, while it is in use. The file must not be there yet. */
export async function backUp(folder: string, target: string): Promise<void> {
  const copy = `${target}.database`;
  const unfinished = `${target}.unfinished`;
  try {
    await copyTo(folder, copy);
    const zip = new ZipFile();
    const failed = new Promise<never>((_, reject) => zip.once("error", reject));
    zip.addFile(copy, database);
    if (existsSync(join(folder, removed))) zip.addFile(join(folder, removed), removed);
    for (const name of await readdir(join(folder, "media")).catch(() => []))
      if (mediaName.test(`media/${name}`))
        zip.addFile(join(folder, "media", name), `media/${name}`, { compress: false });
    zip.end();
    await Promise.race([pipeline(zip.outputStream, createWriteStream(unfinished, { mode: 0o600 })), failed]);
    await toDisk(unfinished);
    await rename(unfinished, target);
    await toDisk(dirname(target));
  } finally {
    for (const each of [copy, unfinished]) await rm(each, { force: true });
  }
}

async function toDisk(path: string): Promise<void> {
  const file = await open(path, "r");
  await file.sync().finally(() => file.close());
}

/** What came of restoring: where what was there before was put aside, if anything was. */
export type Restored = { ok: true; media: number; aside: string | null } | { ok: false; reason: string };

/**
 * Puts a backup (a zip, or a database alone) into a data folder that nobody uses. What is there is put aside, not written over; media
 * stay and are added to; what was removed after the backup was made stays removed.
 */
export async function restore(folder: string, file: string, now = new Date()): Promise<Restored> {
  const there = databaseIn(folder);
  if (existsSync(there) && isInUse(there))
    return { ok: false, reason: "Lapwing is running on this data folder. Stop it first; nothing was changed." };
  await mkdir(join(folder, "media"), { recursive: true, mode: 0o700 });
  const fresh = join(folder, "restoring.db");
  await rm(fresh, { force: true });
  try {
    const taken = (await isZip(file)) ? await takeOut(file, folder, fresh) : await takeAlone(file, fresh);
    if (taken === null || !isWhole(fresh))
      return { ok: false, reason: `${file} is no whole backup of Lapwing. Nothing was changed.` };
    await keepRemoved(folder, taken.removed);
    let aside: string | null = null;
    if (existsSync(there)) {
      aside = join(folder, `before-restore-${now.toISOString().replaceAll(":", "-")}.db`);
      // One file holds it all; it is on disk before anything of what it was made of goes.
      await copyTo(folder, aside);
      await toDisk(aside);
      await toDisk(folder);
      for (const end of ["-wal", "-shm"]) await rm(there + end, { force: true });
    }
    // What was made of the data that were there is made anew.
    for (const end of ["", "-wal", "-shm"]) await rm(tidyIn(folder) + end, { force: true });
    await toDisk(fresh);
    await rename(fresh, there);
    await toDisk(folder);
    return { ok: true, media: taken.media, aside };
  } finally {
    for (const end of ["", "-wal", "-shm"]) await rm(fresh + end, { force: true });
  }
}

async function isZip(file: string): Promise<boolean> {
  const handle = await open(file, "r");
  try {
    const { buffer } = await handle.read(Buffer.alloc(4), 0, 4, 0);
    return buffer.readUInt32BE(0) === 0x504b0304;
  } finally {
    await handle.close();
  }
}

type Taken = { media: number; removed: string };

async function takeAlone(file: string, fresh: string): Promise<Taken> {
  await copyFile(file, fresh);
  await chmod(fresh, 0o600);
  return { media: 0, removed: "" };
}

/** Takes a zip's files out, one after the other; null where it is none of ours or cannot be read. */
async function takeOut(file: string, folder: string, fresh: string): Promise<Taken | null> {
  const zip = await new Promise<Unzipped>((resolve, reject) =>
    openZip(file, { lazyEntries: true }, (error, opened) => (error ? reject(error) : resolve(opened))),
  ).catch(() => null);
  if (!zip) return null;
  const taken: Taken = { media: 0, removed: "" };
  const takeEntry = async (entry: Entry) => {
    const name = mediaName.exec(entry.fileName)?.[1];
    const stream = () =>
      new Promise<Readable>((resolve, reject) =>
        zip.openReadStream(entry, (error, opened) => (error ? reject(error) : resolve(opened))),
      );
    if (entry.fileName === database) await pipeline(await stream(), createWriteStream(fresh, { mode: 0o600 }));
    else if (entry.fileName === removed) {
      const pieces: Buffer[] = [];
      for await (const piece of await stream()) pieces.push(piece as Buffer);
      taken.removed = Buffer.concat(pieces).toString("utf8");
    } else if (name !== undefined) {
      taken.media++;
      const target = join(folder, "media", name);
      // A file of this name has this content.
      if (existsSync(target)) return;
      await pipeline(await stream(), createWriteStream(`${target}.restoring`, { mode: 0o600 }));
      await toDisk(`${target}.restoring`);
      await rename(`${target}.restoring`, target);
    }
  };
  try {
    await new Promise<void>((resolve, reject) => {
      zip.on("entry", (entry: Entry) => void takeEntry(entry).then(() => zip.readEntry(), reject));
      zip.on("end", resolve);
      zip.on("error", reject);
      zip.readEntry();
    });
  } catch {
    return null;
  } finally {
    zip.close();
  }
  return existsSync(fresh) ? taken : null;
}

/** What was removed, by either list, stays removed. */
async function keepRemoved(folder: string, inBackup: string): Promise<void> {
  const path = join(folder, removed);
  const here = await readFile(path, "utf8").catch(() => "");
  const known = new Set(here.split("\n"));
  const more = inBackup.split("\n").filter((line) => line !== "" && !known.has(line));
  if (more.length === 0) return;
  await writeFile(`${path}.restoring`, here + more.map((line) => `${line}\n`).join(""), { mode: 0o600 });
  await toDisk(`${path}.restoring`);
  await rename(`${path}.restoring`, path);
}
