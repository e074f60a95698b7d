import type { AnswerDevice, AnswerSpec, Block, PageDevice, SliderDevice, TypedDevice } from "../../design/types";
import type { Input } from "../records";
import type { Context } from "../resolve";
import type { DeviceRules } from "./device";
import { keys } from "./keys";
import { pointer } from "./pointer";

/** Ways to answer that take whatever their one item gives. */
const ofItem = <D extends TypedDevice | SliderDevice | PageDevice>(): DeviceRules<D> => ({
  accepts: (device, { on, value }) => (on === device.item ? value : null),
  possible: () => null,
});
const slider: DeviceRules<SliderDevice> = {
  ...ofItem<SliderDevice>(),
  possible: (device, _, block) => {
    const item = block.scenes.flatMap(({ items }) => items).find(({ id }) => id === device.item);
    if (item?.kind !== "slider") return [];
    const steps = Math.min(10_000, Math.floor((item.to - item.from) / item.step + 1e-9));
    return Array.from({ length: steps + 1 }, (_each, index) => ({
      device: "slider" as const,
      on: device.item,
      value: String(Math.round((item.from + index * item.step) * 1e9) / 1e9),
    }));
  },
};

const rules = { keys, pointer, typed: ofItem<TypedDevice>(), slider, web: ofItem<PageDevice>() } satisfies {
  [K in AnswerDevice["device"]]: DeviceRules<Extract<AnswerDevice, { device: K }>>;
};
const rulesOf = (device: AnswerDevice) => rules[device.device] as unknown as DeviceRules<AnswerDevice>;

/** The answer an input stands for by any of the ways to give this answer, or null. */
export function acceptedBy(spec: AnswerSpec, input: Input, context: Context): string | null {
  for (const device of spec.by) {
    const value = device.device === input.device ? rulesOf(device).accepts(device, input, context) : null;
    if (value !== null) return value;
  }
  return null;
}

/** Every input that gives this answer in a trial; null where they cannot be listed. */
export function possibleInputs(spec: AnswerSpec, context: Context, block: Block): Input[] | null {
  const each = spec.by.map((device) => rulesOf(device).possible(device, context, block));
  return each.some((inputs) => inputs === null) ? null : each.flatMap((inputs) => inputs ?? []);
}
