import type { Fit } from "~/core/items/fit";
import type { MediaFile } from "~/core/values/study-values";

/** Fits a picture or video into its box: whole, cropped, or distorted in both or in one direction. */
export function fitInto(
  element: HTMLElement,
  fit: Fit,
  box: { w: number; h: number },
  file: MediaFile | undefined,
): void {
  element.style.objectFit = fit === "inside" ? "contain" : fit === "cover" ? "cover" : "fill";
  const scale = file?.width && file.height ? Math.min(box.w / file.width, box.h / file.height) : null;
  const share = (side: number | undefined, of: number) =>
    scale === null || side === undefined ? 100 : ((side * scale) / of) * 100;
  const [w, h] = [
    fit === "stretch-upright" ? share(file?.width, box.w) : 100,
    fit === "stretch-across" ? share(file?.height, box.h) : 100,
  ];
  element.style.width = `${w}%`;
  element.style.height = `${h}%`;
  element.style.margin = `${((100 - h) / 2) * (box.h / box.w)}% ${(100 - w) / 2}%`;
}
