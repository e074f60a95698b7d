import { object } from "../shape/compound";
import { number, oneOf, text, yesNo } from "../shape/plain";
import { optional, type Of, type Shape } from "../shape/shape";
import { colorPattern } from "../values/amounts";
import { newParticipation, participation } from "./participation";

const stageColor = (example: string) =>
  text({ missing: "is missing", pattern: colorPattern, otherwise: `must be a colour such as ${example}` });

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
