import {
  AudioWaveform,
  ChartScatter,
  Film,
  Globe,
  Image,
  Shapes,
  SlidersHorizontal,
  SquareMousePointer,
  TextCursorInput,
  Type,
  Waves,
  type LucideIcon,
} from "lucide-react";
import type { Item, ItemKind } from "~/core/design/types";
import { ArrayFields } from "./array";
import { ButtonFields, EntryFields, SliderFields } from "./controls";
import type { Fields } from "./fields";
import { GratingFields } from "./grating";
import { ImageFields } from "./image";
import { ShapeFields } from "./shape";
import { SoundFields } from "./sound";
import { TextFields } from "./text";
import { VideoFields } from "./video";
import { WebFields } from "./web";

type Kind<T extends Item> = { icon: LucideIcon; title: string; Fields: Fields<T> };

/** How each kind of item is offered and what the margin asks of it. */
const kinds: { [K in ItemKind]: Kind<Extract<Item, { kind: K }>> } = {
  text: { icon: Type, title: "text", Fields: TextFields },
  image: { icon: Image, title: "image", Fields: ImageFields },
  shape: { icon: Shapes, title: "shape", Fields: ShapeFields },
  grating: { icon: Waves, title: "grating", Fields: GratingFields },
  array: { icon: ChartScatter, title: "array", Fields: ArrayFields },
  sound: { icon: AudioWaveform, title: "sound", Fields: SoundFields },
  video: { icon: Film, title: "video", Fields: VideoFields },
  web: { icon: Globe, title: "web page", Fields: WebFields },
  button: { icon: SquareMousePointer, title: "button", Fields: ButtonFields },
  entry: { icon: TextCursorInput, title: "entry", Fields: EntryFields },
  slider: { icon: SlidersHorizontal, title: "slider", Fields: SliderFields },
};

export const itemKinds = Object.keys(kinds) as ItemKind[];
export const kindOf = (kind: ItemKind): Kind<Item> => kinds[kind] as unknown as Kind<Item>;
