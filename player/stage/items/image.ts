import type { ImageItem } from "~/core/items/image/image";
import { fitInto } from "../fit-into";
import { holding, numberOr, setPosition, sized, textOr, type ItemDrawer } from "../item-drawer";

export const drawer: ItemDrawer<ImageItem> = {
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
    setPosition(element, item, context);
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
      context.study.media.find((file) => file.id === id),
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
