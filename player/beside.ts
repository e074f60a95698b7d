import { sendsMarkers } from "~/core/design/all-markers";
import type { StudyDocument } from "~/core/design/document";
import type { Markers } from "./bridge/markers";
import type { Clock } from "./clock";
import type { GazeRun } from "./gaze/gaze";
import type { SessionLog } from "./session-log";

/** What goes on beside a session on devices of the laboratory. */
export type Beside = Partial<Omit<Markers, "stop">> &
  Partial<Pick<GazeRun, "before" | "scenes">> & { stop: () => Promise<void> };
/** Begins to send markers and to record gaze, where the study does. */
export type StartBeside = (
  session: string,
  secret: string,
  log: SessionLog,
  clock: Clock,
  isRehearsal: boolean,
) => Promise<Beside>;

/** Loads what a study needs of it, so that nothing has to be fetched any more when it begins. */
export async function besideOf(study: StudyDocument): Promise<StartBeside> {
  const { settings } = study;
  const markersFile = sendsMarkers(study) ? await import("./bridge/markers") : null;
  const gazeFile = settings.gaze ? await import("./gaze/gaze") : null;
  return async (session, secret, log, clock, isRehearsal) => {
    const markers = await markersFile?.startMarkers(session, log, clock, settings);
    const gaze = await gazeFile?.startGaze(settings, session, secret, log, clock, isRehearsal);
    return {
      ...markers,
      ...(gaze ? { before: gaze.before, scenes: gaze.scenes } : {}),
      stop: async () => {
        await markers?.stop();
        await gaze?.stop();
      },
    };
  };
}
