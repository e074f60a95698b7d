import { list, object } from "../shape/compound";
import { oneOf, whole } from "../shape/plain";
import { optional, type Of } from "../shape/shape";

export const deviceKinds = ["computer", "tablet", "phone"] as const;
export type DeviceKind = (typeof deviceKinds)[number];
export const inputKinds = ["keyboard", "pointer", "touch"] as const;
export type InputKind = (typeof inputKinds)[number];
const pixels = whole(100, 10_000);

const fields = object({
  /** On which one can take part; on any where it is left out. */
  devices: optional(list(oneOf(...deviceKinds), 1, deviceKinds.length)),
  /** What there has to be to answer with. */
  input: optional(oneOf(...inputKinds)),
  /** The least window, in CSS pixels. */
  window: optional(object({ width: pixels, height: pixels })),
  /** The browser is looked at: whether it keeps answers, tells the time finely enough, and draws frames steadily. */
  able: optional(oneOf("yes")),
});
/** On what people can take part by a link. */
export interface Suited extends Of<typeof fields> {}
export const suited = fields;

/** Why somebody could not take part on what they came with. */
export const whyUnsuited = ["device", "input", "window", "browser"] as const;
export type WhyUnsuited = (typeof whyUnsuited)[number];

/** What a browser tells that decides the kind of device: lengths of its screen in CSS pixels. */
export type Screen = { isCoarse: boolean; width: number; height: number };

/** The kind of device: what is worked by a finger first is a phone or, from 600 pixels across its shorter side on, a tablet. */
export const deviceKindOf = ({ isCoarse, width, height }: Screen): DeviceKind =>
  !isCoarse ? "computer" : Math.min(width, height) < 600 ? "phone" : "tablet";

/** How finely a browser has to tell the time, in ms, and how many frames a second it has to draw at least, to be able. */
export const [finestStepMs, fewestFrames] = [1, 30];

const devicesInWords: Record<DeviceKind, string> = { computer: "a computer", tablet: "a tablet", phone: "a phone" };
const inputsInWords: Record<InputKind, string> = {
  keyboard: "a keyboard",
  pointer: "a mouse or touchpad",
  touch: "a touch screen",
};

/** On what one can take part, as it ends a sentence: “a computer with a keyboard, in a window of 800 × 600 or more”. */
export function suitedInWords({ devices, input, window, able }: Suited): string {
  const on = devices ? devices.map((each) => devicesInWords[each]).join(" or ") : "any device";
  return [
    input ? `${on} with ${inputsInWords[input]}` : on,
    ...(window ? [`in a window of ${window.width} × ${window.height} or more`] : []),
    ...(able ? ["in a browser that is seen to be able"] : []),
  ].join(", ");
}
