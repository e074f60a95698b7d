import { object } from "../../shape/compound";
import { oneOf } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { anyText, percent } from "../../values/amounts";
import { freshSized, sized } from "../base";
import { excerpt, excerptMs, lateFramesColumn, offsetColumn } from "../excerpt";
import { fit } from "../fit";
import type { ItemKindOf } from "../kind";

const shape = object({
  ...sized("video"),
  file: anyText,
  ...excerpt,
  fit,
  volume: percent,
  /** What happens when it has come to its end. */
  atEnd: oneOf("hold", "vanish", "loop"),
});
export interface VideoItem extends Of<typeof shape> {}

export const video: ItemKindOf<VideoItem> = {
  shape,
  make: (newId, name, first) => ({
    ...freshSized("video", newId, name, 60, 45),
    file: first("video"),
    startMs: 0,
    stopMs: null,
    fit: "inside",
    volume: 100,
    atEnd: "hold",
  }),
  measures: ({ volume }) => [{ what: "its volume", value: volume, least: 0 }],
  media: ({ file }) => [{ kind: "video", value: file }],
  playsMs: (item, context) => (item.atEnd === "loop" ? 0 : excerptMs(item.file, item, context)),
  columns: () => [offsetColumn, lateFramesColumn],
  timedBy: "began",
};
