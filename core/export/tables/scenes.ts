import type { Block } from "../../design/block";
import type { SceneRecord } from "../../records/record";
import { dataColumn, tenth, type Cell } from "../../values/data-column";
import { columnStem } from "../../values/names";
import { indexOf, type TrialColumn, type TrialSource } from "./trial-source";

/** The scenes' names by how they stand in column names, each once. */
function stemsOf(blocks: readonly Block[]): [stem: string, name: string][] {
  const stems = new Map<string, string>();
  for (const { scenes } of blocks)
    for (const { name } of scenes) if (!stems.has(columnStem(name))) stems.set(columnStem(name), name);
  return [...stems];
}

/** Reads from what a trial's record holds of the scene of a name; empty where it was not shown. */
const ofScene =
  (stem: string) =>
  (read: (scene: SceneRecord) => Cell) =>
  ({ block, record }: TrialSource): Cell => {
    const id = indexOf(block).sceneByStem.get(stem);
    const scene = id === undefined ? undefined : record.scenes.find((each) => each.scene === id);
    return scene ? read(scene) : null;
  };

/** When each scene came on, and how long it was on and was to be on. */
export const sceneColumns = (blocks: readonly Block[]): TrialColumn[] =>
  stemsOf(blocks).flatMap(([stem, name]) => {
    const of = ofScene(stem);
    return [
      dataColumn(
        `${stem}_onset_ms`,
        "number",
        `Scene “${name}”: frame in which it came on, from the session's start`,
        of(({ onset }) => tenth(onset)),
        { unit: "milliseconds" },
      ),
      dataColumn(
        `${stem}_lasted_ms`,
        "number",
        `Scene “${name}”: how long it was on, measured`,
        of(({ onset, end }) => tenth(end - onset)),
        { unit: "milliseconds" },
      ),
      dataColumn(
        `${stem}_planned_ms`,
        "number",
        `Scene “${name}”: how long it was to be on at most; empty where only an answer ends it`,
        of(({ planned }) => (planned === null ? null : tenth(planned))),
        { unit: "milliseconds" },
      ),
    ];
  });

/** How many frames scenes were on and were to be on: where these differ, a scene was late or early. */
export const frameColumns = (blocks: readonly Block[]): TrialColumn[] =>
  stemsOf(blocks).flatMap(([stem, name]) => {
    const of = ofScene(stem);
    return [
      dataColumn(
        `${stem}_frames`,
        "whole number",
        `Scene “${name}”: refreshes of the display it was on`,
        of(({ ended }) => ended?.frames ?? null),
        { unit: "frames" },
      ),
      dataColumn(
        `${stem}_planned_frames`,
        "whole number",
        `Scene “${name}”: refreshes it was to be on, its time rounded to the display's frames; empty unless its time was up`,
        of(({ ended }) => (ended?.by === "time" ? ended.planned : null)),
        { unit: "frames" },
      ),
    ];
  });

/** Frames by which a trial's scenes were late. */
export const lateFramesColumn: TrialColumn = dataColumn(
  "late_frames",
  "whole number",
  "Frames by which scenes of this trial came too late, together",
  ({ record }) => record.lateFrames,
  { unit: "frames" },
);
