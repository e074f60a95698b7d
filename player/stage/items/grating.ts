import type { GratingItem } from "~/core/items/grating/grating";
import type { Drawing } from "../context";
import { holding, numberOr, setPosition, sized, units, type ItemDrawer } from "../item-drawer";

/**
 * A grating is a strip one pixel high, its grey levels worked out once for the pixels of this stage, stretched upright
 * and seen through the envelope. It is longer than its patch by one cycle, so that drifting only slides it.
 */
export const drawer: ItemDrawer<GratingItem> = {
  create: holding("grating", "canvas"),
  update: (element, item, drawing) => {
    const { context } = drawing;
    setPosition(element, item, context);
    const { w } = sized(element, item.size, context);
    element.style.maskImage = envelopes[item.envelope];
    const period = 1 / frequencyOf(item, drawing);
    const strip = element.firstElementChild as HTMLCanvasElement;
    strip.style.left = units(-period);
    strip.style.width = units(w + period);
    draw(strip, item, drawing, w, period);
  },
  live: (element, item, drawing, tell, frameMs) => {
    const strip = element.firstElementChild as HTMLCanvasElement;
    const drift = numberOr(item.drift, drawing.context, 0);
    const period = 1 / frequencyOf(item, drawing);
    if (drift === 0) return Promise.resolve({ begin: () => undefined, end: () => undefined });
    // Every frame shows a phase of its own: one that comes late is a jump that can be seen.
    let [before, late] = [0, 0];
    return Promise.resolve({
      begin: () => undefined,
      end: (stamp) => tell.observed("ended", stamp, { lateFrames: late }),
      ...{
        frame: (elapsed: number) => {
          late += Math.max(0, Math.round((elapsed - before) / frameMs) - 1);
          before = elapsed;
          slide(strip, (drift * elapsed) / 1000, period);
        },
      },
    });
  },
  still: (element, item, drawing, elapsed) => {
    const cycles = (numberOr(item.drift, drawing.context, 0) * elapsed) / 1000;
    slide(element.firstElementChild as HTMLCanvasElement, cycles, 1 / frequencyOf(item, drawing));
  },
};

const slide = (strip: HTMLCanvasElement, cycles: number, period: number): void =>
  void (strip.style.translate = units((cycles - Math.floor(cycles)) * period));

const frequencyOf = (item: GratingItem, { context }: Drawing) =>
  Math.max(0.0001, numberOr(item.frequency, context, 0.3));

/** A Gaussian whose standard deviation is a sixth of the patch, so that it ends at three of them. */
const gaussian = Array.from({ length: 33 }, (_, index) => {
  const share = index / 32;
  return `rgb(0 0 0 / ${Math.exp(-((share * 3) ** 2) / 2).toFixed(4)}) ${(share * 100).toFixed(2)}%`;
});
const envelopes: Record<GratingItem["envelope"], string> = {
  gaussian: `radial-gradient(closest-side, ${gaussian.slice(0, -1).join(", ")}, transparent 100%)`,
  circle: "radial-gradient(closest-side, #000 99.5%, transparent 100%)",
  none: "none",
};

function draw(strip: HTMLCanvasElement, item: GratingItem, drawing: Drawing, w: number, period: number) {
  const { context, pixelsPerUnit } = drawing;
  const pixels = Math.max(2, Math.min(8192, Math.round((w + period) * pixelsPerUnit)));
  strip.width = pixels;
  strip.height = 1;
  const surface = strip.getContext("2d");
  if (!surface) return;
  const image = surface.createImageData(pixels, 1);
  const [contrast, mean] = [numberOr(item.contrast, context, 100) / 100, numberOr(item.mean, context, 50) / 100];
  const phase = numberOr(item.phase, context, 0) / 360;
  for (let pixel = 0; pixel < pixels; pixel++) {
    const x = ((pixel + 0.5) / pixels) * (w + period) - period - w / 2;
    const wave = Math.sin(2 * Math.PI * (x / period + phase));
    const level = mean * (1 + contrast * (item.wave === "square" ? (wave >= 0 ? 1 : -1) : wave));
    const grey = Math.max(0, Math.min(255, Math.round(level * 255)));
    image.data.set([grey, grey, grey, 255], pixel * 4);
  }
  surface.putImageData(image, 0, 0);
}
