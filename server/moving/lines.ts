import { wavePlan } from "../../core/collect/wave";
import { recipe } from "../../core/export/recipes/recipe";
import { norm } from "../../core/persons/norm";
import { trialScore } from "../../core/persons/trial-score";
import { nameShape } from "../../core/values/names";
import { rules } from "../../core/exclusions/registry";
import { list, object, record } from "../../core/shape/compound";
import { number, oneOf, only, text, title, whole, yesNo } from "../../core/shape/plain";
import { nullable, type Of } from "../../core/shape/shape";
import { id } from "../../core/values/ref";
import { pieceFields } from "../gaze";

/*
 * What the files in a `*.lapwing-data.zip` say: a study with its sessions on its way from one installation to another. Each
 * is JSON; `releases.jsonl` and `sessions.jsonl` have one object a line.
 */

/** The files of a data file, besides its media. */
export const fileNames = {
  about: "lapwing-data.json",
  study: "study.lapwing.json",
  releases: "releases.jsonl",
  sessions: "sessions.jsonl",
  /** Only where gaze was recorded: a line each piece. */
  gaze: "gaze.jsonl",
  checksums: "checksums.txt",
} as const;
/** `media/` and the SHA-256 of its content. */
export const mediaName = /^media\/([0-9a-f]{64})$/;

const time = text({ most: 40, missing: "is missing", pattern: /^\d{4}-\d\d-\d\dT[\d:.]+Z$/ });
const note = text({ most: 20_000 });
const name = text({ most: 300 });
const json = text({ most: 2_000_000 });
const count = whole(0, 1e9);
const place = whole(1, 1e7);

/** A set of exclusions, and what was written down when it was recorded as preregistered. */
const exclusionSet = object({
  name: title(),
  rules,
  isUsed: yesNo,
  registered: nullable(object({ at: time, by: name, hash: text({ most: 64 }), sessions: count, looked: yesNo })),
});
const wave = object({ id, plan: wavePlan, release: id, says: note });

export const aboutShape = object({
  format: only("lapwing-data"),
  version: only(1),
  made: time,
  study: object({ id, code: text({ most: 60, missing: "is missing", pattern: /^[a-z0-9-]+$/ }), numberedTo: count }),
  /** Whether what leads to participants, the codes, is in it. */
  codes: yesNo,
  waves: list(wave, 0, 1000),
  exclusions: list(exclusionSet, 0, 50),
  recipes: list(object({ name: title(), recipe }), 0, 50),
  scores: list(object({ name: nameShape, score: trialScore }), 0, 50),
  norms: list(object({ norm, isUsed: yesNo }), 0, 50),
});
export type AboutMoved = Of<typeof aboutShape>;

export const releaseShape = object({
  id,
  number: place,
  revision: place,
  frozenAt: time,
  byWhom: name,
  note,
  accepted: json,
  /** The document as it was frozen, as text. */
  document: text({ most: 100_000_000, missing: "is missing" }),
});
export type MovedRelease = Of<typeof releaseShape>;

/** A record, an entry of the log and the like are texts of JSON, as they are stored. */
const body = text({ most: 100_000_000, missing: "is missing" });
const stored = object({ number: whole(1, 1e7), body, at: time });
const chunk = object({ opening: text({ most: 100 }), number: count, entries: body, at: time });
const aside = object({ number: whole(1, 1e7), body, at: time, why: oneOf("taken", "early", "unplanned", "elsewhere") });
const sessionNote = object({ at: time, by: name, text: note });
const codes = object({
  participant: nullable(name),
  completion: name,
  goOn: nullable(name),
  cameWith: record(text({ most: 10_000 }), 200),
});

/** What is known of a session itself. Link, secret and computer stay behind; the computer's name goes along. */
const sessionFields = object({
  id,
  release: id,
  wave: nullable(id),
  participant: whole(0, 1e9),
  entered: count,
  group: text({ most: 40 }),
  orders: json,
  stratum: text({ most: 2000 }),
  sitting: place,
  repeat: count,
  given: nullable(json),
  device: nullable(json),
  computer: name,
  excludedAt: nullable(time),
  excludedBecause: nullable(note),
  state: oneOf("active", "finished", "withdrawn", "screened-out", "declined"),
  trialsPlanned: count,
  part: nullable(text({ most: 40 })),
  startedAt: time,
  seenAt: time,
  finishedAt: nullable(time),
  browser: text({ most: 2000 }),
  display: nullable(json),
  scenes: count,
  late: number({ least: 0 }),
  lookedAway: count,
  attempt: count,
  removedAt: nullable(time),
});

/** A piece of where a participant looked; those of a session in their order. */
export const gazeLine = object({ session: id, ...pieceFields, at: time });
export type GazeLine = Of<typeof gazeLine>;

export const sessionLine = object({
  session: sessionFields,
  records: list(stored, 0, 1_000_000),
  log: list(chunk, 0, 1_000_000),
  aside: list(aside, 0, 1_000_000),
  notes: list(sessionNote, 0, 10_000),
  codes: nullable(codes),
});
export type SessionLine = Of<typeof sessionLine>;
