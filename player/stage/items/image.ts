import type { Fit, ImageItem, MediaFile } from "~/core/design/types";
import { holding, numberOr, place, sized, textOr, type ItemDrawer } from "./kind";

export const image: ItemDrawer<ImageItem> = {
  create: (document) => {
    const element = holding("image", "img")(document);
    const picture = element.firstElementChild as HTMLImageElement;
    picture.alt = "";
    picture.draggable = false;
    // A file that is there but cannot be read stands out as one that is missing.
    picture.onerror = () => element.classList.add("missing");
    return element;
  },
  update: (element, item, { context, mediaUrl }) => {
    place(element, item, context);
    const box = sized(element, item.size, context);
    element.style.opacity = String(numberOr(item.opacity, context, 100) / 100);
    const mirrored = textOr(item.faces, context, "right") === "left";
    element.style.scale = `${mirrored ? -1 : 1} ${item.upsideDown ? -1 : 1}`;
    const id = textOr(item.picture, context, "");
    const url = mediaUrl(id);
    const picture = element.firstElementChild as HTMLImageElement;
    fitInto(
      picture,
      item.fit,
      box,
      context.document.media.find((file) => file.id === id),
    );
    if (url === null) {
      element.classList.add("missing");
      picture.removeAttribute("src");
    } else if (picture.getAttribute("src") !== url) {
      element.classList.remove("missing");
      picture.src = url;
    }
  },
};

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
