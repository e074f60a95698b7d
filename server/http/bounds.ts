import type { NextFunction, Request, Response } from "express";
import { mostMediaBytes } from "../../core/media/types";
import { mostMovedBytes } from "../moving/open-file";
import { mostFileBytes } from "../study-file-reading";

const [kilobyte, megabyte] = [1024, 1024 * 1024];
/** What stands around a file in a form. */
const around = 100 * kilobyte;
const mostOfForms = 100 * kilobyte;

/** The most an address takes, by what it is for; addresses that are not named take forms. */
const kinds: readonly (readonly [RegExp, number])[] = [
  [/^\/studies(\.data)?$/, mostFileBytes + around],
  [/^\/take-in(\.data)?$/, mostMovedBytes + around],
  [/^\/studies\/[^/]+\/media(\.data)?$/, mostMediaBytes + around],
  [/^\/studies\/[^/]+\/answers(\.data)?$/, 50 * megabyte + around],
  [/^\/studies\/[^/]+\/recipes(\.data)?$/, megabyte],
  // A figure with its fonts.
  [/^\/studies\/[^/]+\/paper(\.data)?$/, 8 * megabyte],
  // A norm sample of the study’s own scores has one of each session.
  [/^\/studies\/[^/]+\/scores(\.data)?$/, 8 * megabyte],
  [/^\/studies\/[^/]+\/edits(\.data)?$/, 20 * megabyte],
  // Lists of links and of codes.
  [/^\/studies\/[^/]+\/collect(\.data)?$/, 2 * megabyte],
  [/^\/self-test(\.data)?$/, 4 * megabyte],
  // Why somebody could not take part: a word.
  [/^\/api\/join\/[^/]+\/unsuited$/, mostOfForms],
  [/^\/api\//, 4 * megabyte],
];

/** The most bytes that may be sent to a path. */
export const mostBytesTo = (path: string): number => kinds.find(([pattern]) => pattern.test(path))?.[1] ?? mostOfForms;

export const mostBytesAnywhere = Math.max(mostOfForms, ...kinds.map(([, most]) => most));

export const tooLarge = "What was sent is larger than this address takes, and was not read. Nothing was changed.";

/** The time a body has to come in: half a minute, and more for a large one over a slow line (50 kB/s). */
export const patienceMs = (length: number): number => 30_000 + length / 50;

/**
 * Refuses a body that is larger than its address takes before anything of it is read, and cuts one that comes too slowly.
 * Its length is always said (`knownLength`), and Node reads no more than that.
 */
export function bounded(request: Request, response: Response, next: NextFunction): void {
  const length = Number(request.get("content-length") ?? 0);
  if (length > mostBytesTo(request.path)) {
    response.status(413).set("Connection", "close").json({ reason: tooLarge });
    return;
  }
  if (length > 0) {
    const cut = setTimeout(() => request.destroy(), patienceMs(length)).unref();
    const settle = () => clearTimeout(cut);
    request.once("end", settle).once("close", settle);
  }
  next();
}
