import type { StudyDocument } from "../core/design/document";
import { wordingFor } from "../core/wording/wording";

/** The texts around a study, as it says them. */
export const wordingOf = ({ language, settings }: Pick<StudyDocument, "language" | "settings">) =>
  wordingFor(language, settings.participation.wording);
