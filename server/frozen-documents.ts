import type { Kysely } from "kysely";
import { storedDocument } from "../core/design/parse";
import type { StudyDocument } from "../core/design/document";
import type { Tables } from "./database/tables";

/** Documents of so many releases are kept parsed: a release never changes, and every request of a session needs its own. */
const most = 60;
const known = new Map<string, StudyDocument>();

/** The document of a release; read and parsed once while it is in use. Throws where there is no such release. */
export async function frozenDocument(db: Kysely<Tables>, releaseId: string): Promise<StudyDocument> {
  const document = known.get(releaseId) ?? (await readDocument(db, releaseId));
  // The one asked for last goes last, so that the first is the one that was not used for longest.
  known.delete(releaseId);
  known.set(releaseId, document);
  if (known.size > most) known.delete(known.keys().next().value as string);
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
