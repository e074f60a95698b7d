import { storedDocument } from "../core/design/parse";
import type { StudyDocument } from "../core/design/types";

/** Documents of so many releases are kept parsed: a release never changes, and every request of a session needs its own. */
const most = 60;
const known = new Map<string, StudyDocument>();

/** The document of a release, from its id and the text that is stored; parsed once while it is in use. */
export function frozenDocument(releaseId: string, text: () => string): StudyDocument {
  const found = known.get(releaseId);
  const document = found ?? storedDocument(text());
  known.delete(releaseId);
  known.set(releaseId, document);
  for (const oldest of known.keys()) {
    if (known.size <= most) break;
    known.delete(oldest);
  }
  return document;
}

export const isKnown = (releaseId: string): boolean => known.has(releaseId);
