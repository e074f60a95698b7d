import { compilePlanned } from "../../core/compile/planned";
import { csv } from "../../core/export/formats/csv";
import type { Piece } from "../../core/export/formats/format";
import { formatCalled, type FormatName } from "../../core/export/formats/registry";
import type { Recipe } from "../../core/export/recipes/recipe";
import { plannedTrials, sequenceColumns } from "../../core/export/tables/sequences";
import type { Store } from "../database/open";
import { frozenDocument } from "../frozen-documents";
import { wholeStudy, type WholeChoice } from "../moving/data-file";
import { exportRelease, exportStudy } from "../study-file";
import { findStudyByCode } from "../studies";
import { participantZip, studyDataZip, tableFile, type Whose } from "./study-data";
import { layoutZip, type LayoutChoice } from "./layouts";
import type { Taken } from "./reader";
import { recipeFile } from "./recipe-file";
import { written } from "./written";

/** A file to be made of a study, by its code. */
export type ExportTask = { code: string } & (
  | (Taken & { kind: "data" | "trials"; format: FormatName; codes?: boolean; design?: boolean })
  /** The planned sequences of a release, or of the study as it is saved. */
  | { kind: "sequences"; release: string | null; participants: number; sitting: number }
  /** The study as it is saved, or a release of it. */
  | { kind: "study"; release: string | null }
  | { kind: "participant"; whose: Whose }
  /** All data in a layout that a community has agreed on. */
  | ({ kind: "layout" } & LayoutChoice)
  /** All of it, for another installation. */
  | ({ kind: "whole" } & WholeChoice)
  /** What a recipe asks for, in a format of its own. */
  | { kind: "recipe"; recipe: Recipe }
);

/** The pieces of a file, made as they are asked for; none where the study is gone. */
export async function* piecesOf(store: Store, task: ExportTask): AsyncGenerator<Piece> {
  const study = await findStudyByCode(store, task.code);
  if (!study) return;
  switch (task.kind) {
    case "data":
      return yield* studyDataZip(store, study, { ...task, format: formatCalled(task.format) });
    case "trials":
      return yield* tableFile(store, study, "trials", { ...task, format: formatCalled(task.format) });
    case "participant":
      return yield* participantZip(store, study, task.whose);
    case "layout":
      return yield* layoutZip(store, study, task);
    case "whole":
      return yield* wholeStudy(store, study, task);
    case "recipe":
      return yield* recipeFile(store, study, task.recipe);
    case "study":
      return yield* task.release === null ? exportStudy(store, study) : exportRelease(store, task.release);
    case "sequences": {
      const document = task.release === null ? study.document : await frozenDocument(store.db, task.release);
      const plans = function* () {
        for (let participant = 1; participant <= task.participants; participant++)
          yield plannedTrials(document, compilePlanned(document, participant, task.sitting));
      };
      return yield* written(csv, sequenceColumns([document]), plans);
    }
  }
}
