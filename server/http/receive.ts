import { createWriteStream } from "node:fs";
import { rm } from "node:fs/promises";
import { Readable } from "node:stream";
import type { ReadableStream as NodeStream } from "node:stream/web";
import { pipeline } from "node:stream/promises";
import { Busboy } from "@fastify/busboy";
import type { MediaKeeper } from "../media/keeper";

/** A file as it came in a form, on disk, and the form's other fields. */
export type Received = { path: string; name: string; fields: Record<string, string> };

const mostFields = 20;

/**
 * Takes the one file of a form and puts it on disk as it comes, then gives it to `take`; it is gone after that. Null where
 * the request is no form with a file. Its length is limited by the address (`bounded`).
 */
export async function withFile<T>(
  request: Request,
  media: Pick<MediaKeeper, "incoming">,
  take: (received: Received) => Promise<T>,
): Promise<T | null> {
  const path = media.incoming();
  try {
    const received = await receive(request, path);
    return received && (await take(received));
  } finally {
    await rm(path, { force: true });
  }
}

async function receive(request: Request, path: string): Promise<Received | null> {
  const type = request.headers.get("Content-Type") ?? "";
  if (!request.body || !type.toLowerCase().startsWith("multipart/form-data")) return null;
  const fields: Record<string, string> = {};
  let file: { name: string; written: Promise<void> } | null = null;
  try {
    const form = new Busboy({
      headers: { "content-type": type },
      limits: { files: 1, fields: mostFields, fieldNameSize: 100, fieldSize: 10_000, headerPairs: 50 },
    });
    form.on("field", (name, value) => {
      if (Object.keys(fields).length < mostFields) Object.assign(fields, { [String(name)]: value });
    });
    form.on("file", (_, content, name) => {
      file = { name: name || "file", written: pipeline(content, createWriteStream(path, { mode: 0o600 })) };
      // Its failure is met where it is waited for.
      file.written.catch(() => undefined);
    });
    await pipeline(Readable.fromWeb(request.body as NodeStream), form);
  } catch {
    return null;
  }
  const there = file as { name: string; written: Promise<void> } | null;
  if (!there) return null;
  await there.written;
  return { path, name: there.name, fields };
}
