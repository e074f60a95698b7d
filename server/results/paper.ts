import { methodInWords } from "../../core/describe/method";
import { paperOf, type KeptPiece } from "../paper";
import type { Result } from "./result";
import { timingOf } from "./timing";

export type PaperAnswer = {
  pieces: KeptPiece[];
  /** How the study is designed, and how its timing was, in sentences. */
  design: string[];
  timing: string;
};

/** The figures that were chosen, and the paragraphs that go with them. */
export const paper: Result<null, PaperAnswer> = {
  ask: () => null,
  answer: async ({ store, reader }) => ({
    pieces: await paperOf(store, reader.study.id),
    design: methodInWords(reader.documents[0] ?? reader.study.document),
    timing: reader.sittings.length === 0 ? "" : (await timingOf(reader)).verdict.join(" "),
  }),
};
