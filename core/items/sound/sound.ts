import { object, variant } from "../../shape/compound";
import { number, only, yesNo } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { anyText, duration, fixedDuration, percent, positive } from "../../values/amounts";
import { bindable } from "../../values/ref";
import { resolveNumber } from "../../values/resolve";
import { base, freshBase } from "../base";
import { excerpt, excerptMs, offsetColumn } from "../excerpt";
import { someMeasure, type ItemKindOf, type Measure } from "../kind";

/** A file, or a generated tone or noise; lengths in milliseconds. */
const source = variant("from", {
  file: object({ from: only("file"), file: anyText, ...excerpt }),
  tone: object({ from: only("tone"), hertz: positive, ms: duration, rampMs: fixedDuration }),
  noise: object({ from: only("noise"), ms: duration, rampMs: fixedDuration }),
});
export type SoundSource = Of<typeof source>;

const shape = object({
  ...base("sound"),
  source,
  volume: percent,
  /** −100 (left) to 100 (right). */
  balance: bindable(number({ least: -100, most: 100 })),
  loop: yesNo,
});
export interface SoundItem extends Of<typeof shape> {}

const sourceMeasures = (source: SoundSource): Measure[] => [
  ...(source.from === "file" ? [] : [{ what: "its length", value: source.ms, least: 0 }]),
  ...(source.from === "tone" ? [{ what: "its frequency", value: source.hertz, least: someMeasure }] : []),
];

export const sound: ItemKindOf<SoundItem> = {
  shape,
  make: (newId, name) => ({
    ...freshBase("sound", newId, name),
    source: { from: "tone", hertz: 440, ms: 200, rampMs: 10 },
    volume: 50,
    balance: 0,
    loop: false,
  }),
  measures: ({ source, volume, balance }) => [
    { what: "its volume", value: volume, least: 0 },
    { what: "its balance", value: balance, least: -100 },
    ...sourceMeasures(source),
  ],
  media: ({ source }) => (source.from === "file" ? [{ kind: "sound", value: source.file }] : []),
  playsMs: ({ source, loop }, context) => {
    if (loop) return 0;
    return source.from === "file" ? excerptMs(source.file, source, context) : (resolveNumber(source.ms, context) ?? 0);
  },
  columns: () => [offsetColumn],
  timedBy: "began",
};
