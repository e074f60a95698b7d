import type { ImageItem } from "~/core/design/types";
import { numberOr, place, textOr, units, type ItemDrawer } from "./kind";

export const image: ItemDrawer<ImageItem> = {
  create: (document) => {
    const element = document.createElement("div");
    element.className = "item image";
    const picture = document.createElement("img");
    picture.alt = "";
    picture.draggable = false;
    element.append(picture);
    return element;
  },
  update: (element, item, { context, mediaUrl }) => {
    place(element, item, context);
    element.style.width = units(numberOr(item.size.w, context, 10));
    element.style.height = units(numberOr(item.size.h, context, 10));
    element.style.opacity = String(numberOr(item.opacity, context, 100) / 100);
    element.style.scale = textOr(item.faces, context, "right") === "left" ? "-1 1" : "1 1";
    const url = mediaUrl(textOr(item.picture, context, ""));
    const picture = element.firstElementChild as HTMLImageElement;
    element.classList.toggle("missing", url === null);
    if (url === null) picture.removeAttribute("src");
    else if (picture.getAttribute("src") !== url) picture.src = url;
  },
};
