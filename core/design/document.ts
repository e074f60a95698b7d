import { list, object, record, variant } from "../shape/compound";
import { only, text, title } from "../shape/plain";
import { optional, type Of, type Shape } from "../shape/shape";
import { pool } from "../values/pool";
import { service } from "../values/service";
import { group, groupValue, mediaFile, variable } from "../values/study-values";
import { allocation } from "./allocation";
import { block } from "./block";
import { notes } from "./notes";
import { page } from "./page";
import { runningNode } from "./running-order";
import { sessionMarkers } from "../markers/marker";
import { rules } from "../rules/rule";
import { score } from "../scores/score";
import { settings } from "./settings";
import { sittings } from "./sittings";
import { currentVersion } from "./version";

const part = variant("kind", { page, block });
/** One row of the running order. */
export type Part = Of<typeof part>;

/** The study document's shape. What holds between its parts stands in `consistency.ts`. */
const studyShapeFields = object({
  format: only("lapwing-study"),
  version: only(currentVersion as number),
  title: title(200),
  description: text({ most: 20_000 }),
  /** BCP 47 tag. */
  language: text({
    missing: "is missing",
    pattern: /^[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*$/,
    otherwise: "must be a language tag such as en or de-CH",
  }),
  groups: list(group, 1, 60),
  groupValues: list(groupValue, 0, 200),
  variables: list(variable, 0, 200),
  /** Rules that are looked at in the whole session, before those of parts and scenes. */
  rules,
  /** Numbers made from answers to questions of any pages. */
  scores: list(score, 0, 200),
  /** Further tables, from which columns of trial tables draw. */
  pools: list(pool, 0, 40),
  /** Moments of the session that devices and data are told of; those of trials stand in their blocks. */
  markers: optional(sessionMarkers),
  /** What rules may ask. */
  services: list(service, 0, 20),
  sittings,
  runningOrder: list(runningNode, 0, 1000),
  parts: record(part),
  media: list(mediaFile, 0, 20_000),
  allocation,
  settings,
  notes: optional(notes),
});
/**
 * Everything about one experiment as one JSON value. Every reference is by id; names are for people and may change at any
 * time.
 */
export interface StudyDocument extends Of<typeof studyShapeFields> {}
export const studyShape: Shape<StudyDocument> = studyShapeFields;
