import type { ShownEnd } from "../collect/ends";
import type { Place } from "../order/place";
import type { StudyDocument } from "../design/document";
import type { Entry } from "./entry";
import type { Beginning } from "./state";
import type { SessionRecord } from "../records/record";

/** Everything a player needs to start or resume a session, as the server sends it; its place may be none yet. */
export type SessionData = Place & {
  session: string;
  seed: string;
  /** Where the participant stands among all who began, from 1. */
  entered: number;
  /** How it begins, where that is not as the study says: by parameters of the link, what an earlier sitting kept, a rehearsal. */
  begins: Beginning;
  pilot: boolean;
  /** ISO 8601, UTC. */
  startedAt: string;
  document: StudyDocument;
  /** What its entry page shows, for a player that came without one. */
  entry: Entry;
  /** What is stored of it so far, in order. */
  records: SessionRecord[];
  finished: boolean;
  /** With this code it goes on at another computer; null where the study does not let it. */
  goOn: string | null;
  /** The completion code, once it is finished. */
  code: string | null;
  /** What is shown at its end, once that has come, where the link has a say in it. */
  end?: ShownEnd;
};

/** The same without its document, which is the same for all sessions of a release and is sent apart. */
export type SessionDataAlone = Omit<SessionData, "document">;
