import { consistencyMistakes } from "./consistency";
import { migrate } from "./migrations/registry";
import { pathInWords } from "./path-in-words";
import { studyShape } from "./document";
import { isDeeperThan } from "../shape/depth";
import { mistakesIn } from "../shape/shape";
import type { StudyDocument } from "./document";
import { currentVersion } from "./version";

export type Parsed = { ok: true; document: StudyDocument } | { ok: false; mistakes: string[] };

/** Brackets hold others, conditions hold others; a study is never deeper. */
const mostDepth = 100;

const refuse = (...mistakes: string[]): Parsed => ({ ok: false, mistakes });

/** Reads a study file's text. On failure gives every mistake, each with where it is and what to do. */
export function parseStudyText(text: string): Parsed {
  let value: unknown;
  try {
    value = JSON.parse(text.replace(/^\uFEFF/, ""));
  } catch (error) {
    return refuse(
      `The file is not JSON: ${error instanceof Error ? error.message : "it could not be read"}. Choose a file exported from Lapwing, ending in .lapwing.json or .lapwing.zip.`,
    );
  }
  return parseStudy(value);
}

/** Checks a parsed value against the format, bringing older versions up to date first. */
export function parseStudy(value: unknown): Parsed {
  if (typeof value !== "object" || value === null || (value as { format?: unknown }).format !== "lapwing-study")
    return refuse("This is not a Lapwing study: the field “format” should be “lapwing-study”.");
  if (isDeeperThan(value, mostDepth)) return refuse("The file holds values nested deeper than any study has.");
  const version = (value as { version?: unknown }).version;
  if (typeof version !== "number" || !Number.isInteger(version) || version < 1)
    return refuse("The field “version” should be a whole number such as 1.");
  if (version > currentVersion)
    return refuse(
      `This file was written by a newer Lapwing (format version ${version}; this one reads up to ${currentVersion}). Update Lapwing, then import it again.`,
    );
  const migrated = migrate(value as Record<string, unknown>, version);
  const mistakes = mistakesIn(studyShape, migrated);
  if (mistakes.length > 0) return refuse(...inWords(migrated, mistakes));
  const document = migrated as StudyDocument;
  const inconsistent = consistencyMistakes(document);
  if (inconsistent.length > 0) return refuse(...inWords(document, inconsistent));
  return { ok: true, document };
}

/** A document that was checked when it was stored, brought up to date. Throws when the text is no document. */
export function storedDocument(text: string): StudyDocument {
  const value = JSON.parse(text) as Record<string, unknown> & { version: number };
  return migrate(value, value.version) as StudyDocument;
}

const inWords = (document: unknown, mistakes: { path: string; message: string }[]) => [
  ...new Set(
    mistakes.map(({ path, message }) => `${pathInWords(document, path)} ${message}`.replace(/([^.])$/, "$1.")),
  ),
];
