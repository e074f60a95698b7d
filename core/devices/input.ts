import { number, oneOf, text } from "../shape/plain";
import { optional } from "../shape/shape";
import type { OfFields } from "../shape/compound";
import { longValue } from "../items/observation";

const act = oneOf("press", "release", "hold");

/** The fields of an input, beside the device it was made with. Each device has its own of the optional ones. */
export const inputFields = {
  /** The key by what it types, the text typed, where the slider stands, the name of what was pointed at. */
  value: longValue,
  /** The key by its position on the keyboard. */
  place: optional(text({ most: 60 })),
  act: optional(act),
  /** For how long a key had been held, in milliseconds. */
  heldMs: optional(number({ least: 0 })),
  /** How long before it was looked at last whether a button is pressed, in milliseconds. */
  polledMs: optional(number({ least: 0 })),
  /** How long ago its typing had begun when it was given, in milliseconds. */
  typedForMs: optional(number({ least: 0 })),
  /** The item, or the name of the region, it was made on. */
  on: optional(text({ most: 60 })),
  by: optional(oneOf("mouse", "pen", "touch", "keyboard")),
  /** Where it was pointed at, in stage units. */
  x: optional(number()),
  y: optional(number()),
};

/** Something a participant did that can be an answer, as the driver saw it. */
export type Input = OfFields<typeof inputFields> & { device: string };
