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
