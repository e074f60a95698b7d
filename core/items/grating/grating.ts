import { object } from "../../shape/compound";
import { oneOf } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { anyNumber, percent, positive } from "../../values/amounts";
import { freshSized, sized } from "../base";
import { lateFramesColumn } from "../excerpt";
import { anyMeasure, noMedia, type ItemKindOf } from "../kind";

const shape = object({
  ...sized("grating"),
  wave: oneOf("sine", "square"),
  envelope: oneOf("gaussian", "circle", "none"),
  /** Cycles per stage unit. */
  frequency: positive,
  /** Degrees of a cycle at the patch's centre. */
  phase: anyNumber,
  /** Michelson contrast, 0 to 100 per cent. */
  contrast: percent,
  /** Grey level between black (0) and white (100), in per cent of the display's code range. */
  mean: percent,
  /** Cycles per second; 0 stands still. */
  drift: anyNumber,
});
export interface GratingItem extends Of<typeof shape> {}

/** A luminance grating in a patch. The envelope fades it into what lies behind. */
export const grating: ItemKindOf<GratingItem> = {
  shape,
  make: (newId, name) => ({
    ...freshSized("grating", newId, name, 30, 30),
    wave: "sine",
    envelope: "gaussian",
    frequency: 0.3,
    phase: 0,
    contrast: 80,
    mean: 50,
    drift: 0,
  }),
  measures: ({ frequency, phase, contrast, mean, drift }) => [
    { what: "its frequency", value: frequency, least: 0.0001 },
    { what: "its phase", value: phase, least: anyMeasure },
    { what: "its contrast", value: contrast, least: 0 },
    { what: "its mean luminance", value: mean, least: 0 },
    { what: "its drift", value: drift, least: anyMeasure },
  ],
  media: noMedia,
  columns: ({ drift }) => (drift === 0 ? [] : [lateFramesColumn]),
  timedBy: "ended",
};
