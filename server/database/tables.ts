import type { SessionState } from "../../core/export/tables/standing";
import type { EndName } from "../../core/collect/ends";
import type { WhyUnsuited } from "../../core/collect/suited";
import type { DeedKind } from "../study-log";
import type { WaveState } from "../../core/collect/wave";
import type { WhyAside } from "../../core/export/tables/kept-aside";
import type { Generated } from "kysely";
import type { SessionRecord } from "../../core/records/record";

/** Times are ISO 8601 in UTC; yes/no values are 0 or 1; JSON is kept as text. */
type Time = string;
type YesNo = 0 | 1;

type AccountTable = {
  id: string;
  email: string;
  name: string;
  password_hash: string;
  is_demo: YesNo;
  created_at: Time;
  /** When it was closed, so that nobody can sign in to it. */
  closed_at: Time | null;
  /** Whether it invites others and looks after their accounts. */
  is_admin: Generated<YesNo>;
  /** By what a provider of sign-ins knows it; null where none does. */
  subject: Generated<string | null>;
  /** The secret of an app whose codes are asked for at signing in; null for none. */
  totp: Generated<string | null>;
  /** The step of the last code that was taken, so that none is taken twice. */
  totp_step: Generated<number>;
};
/** A link that works once: by which an account is made, or a forgotten password set anew. */
type InviteTable = {
  token_hash: string;
  kind: "account" | "password";
  /** For whom it was made; may be empty. */
  email: string;
  /** Whose password it sets. */
  account_id: string | null;
  by_whom: string;
  since: Time;
  expires_at: Time;
};
/** A laboratory: persons with whom a study can be shared at once. */
type LabTable = { id: string; name: string; since: Time };
type LabMemberTable = {
  lab_id: string;
  account_id: string;
  /** Whether they say who belongs to it. */
  heads: YesNo;
};
/** Who works on a study beside its owner: a person or a laboratory, with their roles, parted by spaces. */
type StudyShareTable = {
  id: string;
  study_id: string;
  account_id: string | null;
  lab_id: string | null;
  roles: string;
  since: Time;
};
/** What somebody said of a part of a design, and answers to it. */
type StudyCommentTable = {
  id: string;
  study_id: string;
  /** JSON of what it is about. */
  about: string;
  /** The comment it answers; null for one that stands by itself. */
  answers: string | null;
  text: string;
  account_id: string;
  at: Time;
  resolved_at: Time | null;
  resolved_by: string | null;
};
type StudyLabelTable = { study_id: string; label: string };
/** A key with which a program of somebody reads a study's data, stored as its hash. */
type ScriptKeyTable = {
  id: string;
  study_id: string;
  account_id: string;
  name: string;
  key_hash: string;
  since: Time;
  expires_at: Time;
  used_at: Time | null;
};
type SignInTable = {
  token_hash: string;
  account_id: string;
  /** After this time without use. */
  expires_at: Time;
  id: Generated<string>;
  /** Whether it was asked to last long without use. */
  stays: Generated<YesNo>;
  since: Generated<Time>;
  seen_at: Generated<Time>;
  from_address: Generated<string>;
  browser: Generated<string>;
};
type SignInTryTable = { id: Generated<number>; subject: string; at: Time };
type StudyTable = {
  id: string;
  owner_id: string;
  code: string;
  document: string;
  revision: number;
  created_at: Time;
  edited_at: Time;
  binned_at: Time | null;
  /** The highest participant's number that was ever given out and is not there any more. */
  numbered_to: Generated<number>;
  /** Whether assistants are shown in which group a participant is. */
  shows_groups: Generated<YesNo>;
  /** The hash of the secret in the link by which its design is read without an account; null for none. */
  reader_hash: Generated<string | null>;
};
/** One row an accepted edit: the patches that lead from the revision before to this one, and back. */
type StudyRevisionTable = { study_id: string; revision: number; patches: string; inverse: string; saved_at: Time };
/** A revision that was given a name. */
type StudyVersionTable = { study_id: string; revision: number; name: string; named_at: Time };
type StudyMediaTable = { study_id: string; sha256: string; mime: string; bytes: number; added_at: Time };
/** `number` is null for the snapshot a rehearsal plays. */
type ReleaseTable = {
  id: string;
  study_id: string;
  number: number | null;
  revision: number;
  document: string;
  note: string;
  frozen_at: Time;
  /** The name of who released it. */
  by_whom: Generated<string>;
  /** JSON: what preflight noted then, and was accepted with it. */
  accepted: Generated<string>;
};
/** A wave of data collection; the release it runs is the one sessions begin on now. */
type WaveTable = {
  id: string;
  study_id: string;
  /** Where it stands among the study's waves, from 0. */
  place: number;
  release_id: string;
  /** JSON of its name, dates and target. */
  plan: string;
  state: WaveState;
  /** What people read while it is paused or closed; empty for what the study says. */
  says: string;
  /** When it was last opened, paused or closed. */
  changed_at: Time;
  created_at: Time;
};
type EntryLinkTable = {
  token: string;
  wave_id: string;
  label: string;
  open: YesNo;
  /** What it asks of those who come by it, as JSON; null for nothing. */
  terms: Generated<string | null>;
  created_at: Time;
  /** Of a link for one person: the set it was made with, which says what it asks; where it stands there, and what is noted. */
  set_id: Generated<string | null>;
  place: Generated<number>;
  note: Generated<string | null>;
};
type LinkSetTable = {
  id: string;
  wave_id: string;
  label: string;
  open: YesNo;
  terms: string | null;
  created_at: Time;
};
/** A code of a list that is given out at an end, each once. */
type EndCodeTable = {
  study_id: string;
  /** The link's token, or the id of the set of links. */
  link: string;
  ending: EndName;
  place: number;
  code: string;
  given_at: Time | null;
};
/** What somebody of the team noted of a session. */
type SessionNoteTable = { id: string; session_id: string; at: Time; by_whom: string; text: string };
/** How many could not take part on what they came with, by link or set of links. */
type UnsuitedTable = { study_id: string; link: string; why: WhyUnsuited; count: number };
/** What leads from a session to a person: kept apart, removable while data stay. No row where it was removed. */
type SessionCodesTable = {
  session_id: string;
  study_id: string;
  /** The name a participant came with, by which later sittings find the first one. */
  participant_code: string | null;
  /** What is shown at its end. */
  completion_code: string;
  /** With this the participant goes on at another computer; null where the study does not let them. */
  go_on_code: string | null;
  /** JSON by name of what a link brought that leads its participant back; null for nothing. */
  came_with: string | null;
};
type SessionTable = {
  id: string;
  study_id: string;
  release_id: string;
  link_token: string | null;
  /** Null for rehearsals. */
  wave_id: Generated<string | null>;
  token_hash: string;
  /** 0 until the session has its place; its group is empty then. */
  participant: number;
  /** Where it stands among all that began without a place, from 1; 0 for the others, whose number says it. */
  entered: Generated<number>;
  /** What variables started with, as JSON by id, where that is not what the study says; null for nothing. */
  given: Generated<string | null>;
  /** How a rehearsal is played, as JSON; null for participants. */
  rehearsal: Generated<string | null>;
  /** The laboratory's computer on which it was started; null for any other. */
  computer_id: Generated<string | null>;
  /** The name of the computer on which it was started at another installation; null for any other. */
  computer_name: Generated<string | null>;
  /** The device on which it began, as JSON; null where its study does not look at it. */
  device: Generated<string | null>;
  /** JSON of what decides the place besides answers, until the session has it. */
  asked: Generated<string | null>;
  group_id: string;
  /** JSON: for each bracket which of its orders. */
  orders: Generated<string>;
  /** What was known of the participant before, as the study's strata name it; empty where it has none. */
  stratum: Generated<string>;
  sitting: Generated<number>;
  /** How often the sitting was begun anew before, because one that was not finished does not count. */
  repeat: Generated<number>;
  /** When it was left out by a researcher, null while it counts. */
  excluded_at: Time | null;
  /** Why, as they said; null while it counts, or where they did not say. */
  excluded_because: Generated<string | null>;
  pilot: YesNo;
  state: SessionState;
  /** How far the session is: records stored, trials done, and the part it stands in. */
  records: number;
  trials: number;
  trials_planned: number;
  part: string | null;
  started_at: Time;
  seen_at: Time;
  finished_at: Time | null;
  browser: string;
  /** JSON of the display it was last played on; null before its first block. */
  display: string | null;
  /** How much is stored of what its player sent, its log and what was kept aside included. */
  stored_characters: Generated<number>;
  /** What is told of it in the live view: scenes whose end was planned in frames, and how many of them were late. */
  scenes: Generated<number>;
  late: Generated<number>;
  /** How often another window was in front, or full screen was left. */
  looked_away: Generated<number>;
  /** The attempt its last trial belongs to, where a part is repeated until good enough; 0 for none. */
  attempt: Generated<number>;
  /** How many records waited at the participant's when it last sent some. */
  waiting: Generated<number>;
  /** When it counts as broken off at the latest, as its link says. */
  ends_by: Generated<Time | null>;
  /** When its records were removed because the participant left and the study says so. */
  removed_at: Time | null;
};
/** Tokens by which a session was played before it went on at another computer. */
type EarlierTokenTable = { token_hash: string; session_id: string; replaced_at: Time };
/** What was logged beside the records, as it was sent: a list of entries in JSON. */
type SessionLogTable = { session_id: string; opening: string; number: number; entries: string; received_at: Time };
/** A piece of where a participant looked: `samples` as `server/gaze.ts` reads them. */
type GazePieceTable = {
  session_id: string;
  number: number;
  through: number;
  count: number;
  error_ms: number | null;
  samples: string;
  received_at: Time;
};
/** The result of a laboratory computer's self-test. */
type ComputerTestTable = {
  id: string;
  account_id: string;
  computer: string;
  at: Time;
  result: string;
  /** The enrolled computer that was tested; null for any other. */
  computer_id: Generated<string | null>;
};
/** A computer of a laboratory that starts sessions of chosen studies without anybody's password. */
type LabComputerTable = {
  id: string;
  name: string;
  token_hash: string;
  /** Of the assistant's key, which opens its list after a session. */
  key_hash: string;
  /** Who enrolled it. */
  account_id: string;
  is_locked: YesNo;
  since: Time;
  seen_at: Time;
};
type LabComputerStudyTable = { computer_id: string; study_id: string };
type RecordTable = {
  session_id: string;
  number: number;
  kind: SessionRecord["kind"];
  body: string;
  received_at: Time;
};
/** A record under a number that is already taken by a different one: kept aside, never put in its place. */
type RefusedRecordTable = {
  id: Generated<number>;
  session_id: string;
  number: number;
  body: string;
  received_at: Time;
  /** `taken`: another stands under its number; `early`: one before it is missing; `unplanned`: it cannot follow. */
  why: Generated<WhyAside>;
};

type DeedTable = { id: string; study_code: string; at: Time; by_whom: string; what: string; kind: Generated<DeedKind> };
type IntakeTable = {
  study_id: string;
  /** Empty for sessions begun without a link. */
  link: string;
  /** Day in UTC, as 2026-11-25. */
  day: string;
  sessions: number;
  characters: number;
};

/** A named set of exclusions; `rules` and `registered` are JSON. */
type ExclusionSetTable = {
  id: string;
  study_id: string;
  name: string;
  rules: string;
  version: number;
  /** One of a study's is, where it has any. */
  is_used: 0 | 1;
  since: string;
  /** What the server wrote down when it was recorded as preregistered: it is never changed after that. */
  registered: string | null;
};

/** A file that is made of a study again and again; `recipe` is JSON. */
type RecipeTable = {
  id: string;
  study_id: string;
  name: string;
  /** Its part of the address, which stays when it is renamed. */
  address: string;
  recipe: string;
  version: number;
  since: string;
  /** How often it was taken, and when last. */
  reads: number;
  read_at: string | null;
};

/** A score over trials; `score` is JSON, `name` its column. */
type TrialScoreTable = {
  id: string;
  study_id: string;
  name: string;
  score: string;
  version: number;
  since: string;
};
/** A norm sample; `norm` is JSON, and never changed. */
type NormSampleTable = { id: string; study_id: string; norm: string; is_used: YesNo; since: string };

/** A figure kept for a paper; `piece` is JSON. */
type PaperPieceTable = {
  id: string;
  study_id: string;
  place: number;
  piece: string;
  with_table: YesNo;
  since: string;
};

export type Tables = {
  paper_piece: PaperPieceTable;
  trial_score: TrialScoreTable;
  norm_sample: NormSampleTable;
  intake: IntakeTable;
  deed: DeedTable;
  account: AccountTable;
  invite: InviteTable;
  lab: LabTable;
  lab_member: LabMemberTable;
  study_share: StudyShareTable;
  study_label: StudyLabelTable;
  study_comment: StudyCommentTable;
  script_key: ScriptKeyTable;
  exclusion_set: ExclusionSetTable;
  recipe: RecipeTable;
  sign_in: SignInTable;
  sign_in_try: SignInTryTable;
  study: StudyTable;
  study_revision: StudyRevisionTable;
  study_version: StudyVersionTable;
  study_media: StudyMediaTable;
  release: ReleaseTable;
  wave: WaveTable;
  entry_link: EntryLinkTable;
  link_set: LinkSetTable;
  end_code: EndCodeTable;
  session_codes: SessionCodesTable;
  unsuited: UnsuitedTable;
  session_note: SessionNoteTable;
  session: SessionTable;
  record: RecordTable;
  refused_record: RefusedRecordTable;
  earlier_token: EarlierTokenTable;
  session_log: SessionLogTable;
  gaze_piece: GazePieceTable;
  computer_test: ComputerTestTable;
  lab_computer: LabComputerTable;
  lab_computer_study: LabComputerStudyTable;
};
