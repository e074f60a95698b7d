import { createHash } from "node:crypto";
import { promisify } from "node:util";
import { brotliCompress, constants, gzip } from "node:zlib";
import type { Kysely } from "kysely";
import { LRUCache } from "lru-cache";
import { storedDocument } from "../core/design/parse";
import type { StudyDocument } from "../core/design/document";
import type { Tables } from "./database/tables";

/** Documents of so many releases are kept parsed: a release never changes, and every request of a session needs its own. */
const known = new LRUCache<string, StudyDocument>({ max: 60 });

/** The document of a release; read and parsed once while it is in use. Throws where there is no such release. */
export async function frozenDocument(db: Kysely<Tables>, releaseId: string): Promise<StudyDocument> {
  const document = known.get(releaseId) ?? (await readDocument(db, releaseId));
  known.set(releaseId, document);
  return document;
}

async function readDocument(db: Kysely<Tables>, releaseId: string): Promise<StudyDocument> {
  const { document } = await db
    .selectFrom("release")
    .select("document")
    .where("id", "=", releaseId)
    .executeTakeFirstOrThrow();
  return storedDocument(document);
}

/** A document as it stands in a study's file. */
export const textInFile = (document: unknown): string => `${JSON.stringify(document, null, 2)}\n`;

/** The document of a release as it was frozen, as it stands in the release's file. */
export async function frozenText(db: Kysely<Tables>, releaseId: string): Promise<string> {
  const { document } = await db
    .selectFrom("release")
    .select("document")
    .where("id", "=", releaseId)
    .executeTakeFirstOrThrow();
  return textInFile(JSON.parse(document));
}

/** What a release is known by: the SHA-256 of its document in its file, which names its media by theirs. */
export const frozenHash = async (db: Kysely<Tables>, releaseId: string): Promise<string> =>
  createHash("sha256")
    .update(await frozenText(db, releaseId))
    .digest("hex");

/** Whether a study has this numbered release. */
export async function hasRelease(db: Kysely<Tables>, studyId: string, releaseId: string): Promise<boolean> {
  const found = await db
    .selectFrom("release")
    .select("id")
    .where("id", "=", releaseId)
    .where("study_id", "=", studyId)
    .where("number", "is not", null)
    .executeTakeFirst();
  return found !== undefined;
}

const texts = new WeakMap<StudyDocument, string>();
/** A frozen document as JSON, written once. */
export function textOf(document: StudyDocument): string {
  const text = texts.get(document) ?? JSON.stringify(document);
  texts.set(document, text);
  return text;
}

/** Ways in which an answer's body can be packed, the smallest first. */
export const packings = ["br", "gzip", "identity"] as const;
export type Packing = (typeof packings)[number];
const [brotli, gzipped] = [promisify(brotliCompress), promisify(gzip)];
const pack: Record<Packing, (text: string) => Promise<Buffer>> = {
  br: (text) => brotli(text, { params: { [constants.BROTLI_PARAM_QUALITY]: 5 } }),
  gzip: (text) => gzipped(text, { level: 6 }),
  identity: (text) => Promise.resolve(Buffer.from(text)),
};
/** A whole class asks for the same one at once. */
const packed = new LRUCache<string, Promise<Buffer>>({ max: 60 });

/** The document of a release as the body of an answer, packed once while it is in use. */
export function packedDocument(db: Kysely<Tables>, releaseId: string, packing: Packing): Promise<Buffer> {
  const key = `${releaseId} ${packing}`;
  const known = packed.get(key);
  if (known) return known;
  const made = frozenDocument(db, releaseId).then((document) => pack[packing](textOf(document)));
  packed.set(key, made);
  made.catch(() => packed.delete(key));
  return made;
}
