import type { StudyDocument } from "../design/document";

export type FindingTarget = {
  part?: string | undefined;
  scene?: string | undefined;
  item?: string | undefined;
  column?: string | undefined;
  row?: string | undefined;
  /** A question or passage of a page. */
  piece?: string | undefined;
  rule?: string | undefined;
  pool?: string | undefined;
};
/** Errors block a release, warnings ask for a look, notes only inform. */
export type Finding = { level: "error" | "warning" | "note"; where: string; message: string; target: FindingTarget };

/** A check looks at a whole document and lists what it finds. Register a new one in preflight.ts. */
export type Check = (document: StudyDocument) => Finding[];
