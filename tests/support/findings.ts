import type { Finding } from "~/core/check/finding";
import { preflight } from "~/core/check/preflight";
import type { StudyDocument } from "~/core/design/document";
import { plainStudy, withBlock } from "./studies";

/** A change that makes the plain study wrong, by what is wrong then, with what preflight says of it. */
export type Flaw = [string, Parameters<typeof withBlock>[1], RegExp];

export const flawed = (change: Flaw[1]): StudyDocument => withBlock(plainStudy(), change);

/** What preflight finds at a level, each as one line. */
export const linesOf = (document: StudyDocument, wanted: Finding["level"] = "error"): string[] =>
  preflight(document)
    .filter(({ level }) => level === wanted)
    .map(({ where, message }) => `${where}: ${message}`);
