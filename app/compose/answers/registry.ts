import { newKeys } from "~/core/design/defaults";
import type { AnswerDevice, Block } from "~/core/design/types";
import type { DeviceFields } from "./device";
import { firstOfKind, PageFields, SliderDeviceFields, TypedFields } from "./fields";
import { KeyFields } from "./keys";
import { PointerFields } from "./pointer";

type Kind<D extends AnswerDevice> = {
  title: string;
  offer: string;
  fresh: (block: Block) => D;
  Fields: DeviceFields<D>;
};

/** The ways to answer, as they are offered, begun and set in the margin. */
const kinds: { [K in AnswerDevice["device"]]: Kind<Extract<AnswerDevice, { device: K }>> } = {
  keys: { title: "Keys", offer: "Keys", fresh: () => newKeys(["f", "j"]), Fields: KeyFields },
  pointer: {
    title: "Pointing",
    offer: "Pointing at items, buttons or regions",
    fresh: (block) => ({
      device: "pointer",
      targets: block.scenes.flatMap(({ items }) =>
        items.flatMap(({ kind, id }) => (kind === "button" ? [{ item: id, value: null }] : [])),
      ),
    }),
    Fields: PointerFields,
  },
  typed: {
    title: "Typed text",
    offer: "Text typed into an entry",
    fresh: (block) => ({ device: "typed", item: firstOfKind(block, "entry"), confirm: null }),
    Fields: TypedFields,
  },
  slider: {
    title: "Slider",
    offer: "A slider",
    fresh: (block) => ({ device: "slider", item: firstOfKind(block, "slider"), confirm: null }),
    Fields: SliderDeviceFields,
  },
  web: {
    title: "Web page",
    offer: "A value that a web page sends",
    fresh: (block) => ({ device: "web", item: firstOfKind(block, "web") }),
    Fields: PageFields,
  },
};

export const deviceKinds = Object.keys(kinds) as AnswerDevice["device"][];
export const kindOfDevice = (device: AnswerDevice["device"]): Kind<AnswerDevice> =>
  kinds[device] as unknown as Kind<AnswerDevice>;
export const freshDevice = (device: AnswerDevice["device"], block: Block): AnswerDevice => kinds[device].fresh(block);
