import { object } from "../shape/compound";
import { number, text, yesNo } from "../shape/plain";
import { nullable, type Of, type Shape } from "../shape/shape";

const most = 100_000;
const fields = object({
  /** It is worked with a finger. */
  touch: yesNo,
  /** Size of the window, in CSS pixels. */
  width: number({ least: 0, most }),
  height: number({ least: 0, most }),
  /** How often in a second its display shows a new frame; null where that could not be measured. */
  refreshHz: nullable(number({ least: 0, most })),
  /** The language the browser is set to, as in BCP 47. */
  language: text({ most: 40 }),
});
/** The device on which a session began, as its browser tells. */
export interface Device extends Of<typeof fields> {}
export const device: Shape<Device> = fields;

/** A computer in a laboratory: what is designed is seen as there, and simulated participants sit before it. */
export const exampleDevice: Device = { touch: false, width: 1280, height: 800, refreshHz: 60, language: "en" };

/** Whether a study looks at the device: only then it is kept. */
export function looksAtDevice(document: object): boolean {
  const known = looks.get(document);
  if (known !== undefined) return known;
  const found = JSON.stringify(document).includes('"builtIn":"device.');
  looks.set(document, found);
  return found;
}
const looks = new WeakMap<object, boolean>();
