import { shapesOf, variant } from "../shape/compound";
import type { Of } from "../shape/shape";
import { gamepad } from "./gamepad/gamepad";
import { keys } from "./keys/keys";
import type { DeviceKindOf } from "./kind";
import { pointer } from "./pointer/pointer";
import { slider } from "./slider/slider";
import { typed } from "./typed/typed";
import { web } from "./web/web";

/** The ways to answer, in the order in which they are offered. */
const kinds = { keys, pointer, typed, slider, web, gamepad };

export type DeviceName = keyof typeof kinds;
export const deviceNames = Object.keys(kinds) as DeviceName[];
export type AnswerDevice = Of<(typeof kinds)[DeviceName]["shape"]>;
export const deviceShape = variant("device", shapesOf(kinds));

/** What is known of a way to answer. */
export const deviceKind = (device: DeviceName): DeviceKindOf<AnswerDevice> =>
  kinds[device] as unknown as DeviceKindOf<AnswerDevice>;
export const isDeviceName = (name: string): name is DeviceName => Object.hasOwn(kinds, name);
