import type { TrackerSettings } from "../../core/bridge/messages";
import { lines } from "./lines";
import type { Tracker, TrackerAdapter, TrackerHearing } from "./tracker";

const adapters: Record<TrackerSettings["adapter"], TrackerAdapter> = { lines };

/** Reaches a tracker by its adapter; rejects with `NoLine`, whose message says what is wrong. */
export const openTracker = (settings: TrackerSettings, hearing: TrackerHearing): Promise<Tracker> =>
  adapters[settings.adapter].open(settings, hearing);
