import { pointCountNames } from "../gaze/point-counts";
import { object } from "../shape/compound";
import { number, oneOf, text, whole, yesNo } from "../shape/plain";
import { optional, type Of, type Shape } from "../shape/shape";
import { colorPattern } from "../values/amounts";
import { newParticipation, participation } from "./participation";

const stageColor = (example: string) =>
  text({ missing: "is missing", pattern: colorPattern, otherwise: `must be a colour such as ${example}` });

const gazeSettings = object({
  /** How many points the calibration shows. */
  points: oneOf(...pointCountNames),
  /** A point is taken when the eyes rest on it, or when a key is pressed. */
  accepted: oneOf("by-itself", "by-key"),
  target: oneOf("still", "shrinking", "picture"),
  /** The mean gaze may be off by so many degrees of visual angle to go on without being asked. */
  worstDegrees: number({ above: 0, most: 20 }),
  /** After so many trials one point is shown again, and what is off by more is calibrated anew. */
  checkedAfter: optional(whole(1, 10_000)),
});
export type GazeSettings = Of<typeof gazeSettings>;
export const newGazeSettings = (): GazeSettings => ({
  points: "nine",
  accepted: "by-itself",
  target: "shrinking",
  worstDegrees: 1,
});

const settingsFields = object({
  /** Every random draw in the study follows from this text and the participant's number. */
  seed: text({
    missing: "is missing",
    pattern: /^[A-Za-z0-9-]{1,40}$/,
    otherwise: "must have only letters, digits and hyphens",
  }),
  stageColor: stageColor("#eeeadf"),
  textColor: stageColor("#17211e"),
  fullScreen: yesNo,
  progressBar: yesNo,
  participation,
  /** A square in a corner of the stage, for a light sensor: bright while a scene is on with whose onset a marker goes out. */
  lightSquare: optional(
    object({
      corner: oneOf("upper-left", "upper-right", "lower-left", "lower-right"),
      /** In stage units. */
      side: number({ above: 0, most: 40 }),
    }),
  ),
  /** Where the participant looks is recorded, by an eye tracker that is calibrated before the first trial. */
  gaze: optional(gazeSettings),
  /** For sizes in degrees of visual angle: how far the eyes are from a stage whose shorter side is so long, in cm. */
  viewing: optional(object({ distanceCm: number({ above: 0 }), shorterSideCm: number({ above: 0 }) })),
});
export interface Settings extends Of<typeof settingsFields> {}
export const settings: Shape<Settings> = settingsFields;

export const newSettings = (seed: string): Settings => ({
  seed,
  stageColor: "#eeeadf",
  textColor: "#17211e",
  fullScreen: false,
  progressBar: true,
  participation: newParticipation(),
});
