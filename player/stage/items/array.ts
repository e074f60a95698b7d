import type { ArrayItem, ElementLook } from "~/core/items/array/array";
import type { Drawing } from "../context";
import { numberOr, setPosition, sized, textOr, units, type ItemDrawer } from "../item-drawer";
import { drawShape, newDrawing } from "../draw-shape";

export const drawer: ItemDrawer<ArrayItem> = {
  create: (document) => {
    const element = document.createElement("div");
    element.className = "item array";
    return element;
  },
  update: (element, item, drawing) => {
    const { context } = drawing;
    setPosition(element, item, context);
    sized(element, item.size, context);
    const side = numberOr(item.element, context, 5);
    const elements = (context.placed[item.id] ?? []).map(({ x, y, isTarget }) => {
      const made = drawElement(element.ownerDocument, isTarget ? item.target : item.others, side, drawing);
      made.style.left = `calc(50% + ${units(x)})`;
      made.style.top = `calc(50% - ${units(y)})`;
      made.dataset.element = isTarget ? "target" : "other";
      return made;
    });
    element.replaceChildren(...elements);
  },
};

function drawElement(document: Document, look: ElementLook, side: number, drawing: Drawing): HTMLElement {
  const { context, mediaUrl } = drawing;
  const element = document.createElement("div");
  element.className = "element";
  element.style.width = element.style.height = units(side);
  const turned = numberOr(look.turned, context, 0);
  if (turned !== 0) element.style.rotate = `${turned}deg`;
  const color = textOr(look.color, context, "#000000");
  if (look.form === "picture") {
    const url = mediaUrl(textOr(look.picture, context, ""));
    const picture = document.createElement("img");
    picture.alt = "";
    if (url) picture.src = url;
    element.append(picture);
    element.classList.toggle("missing", url === null);
  } else if (look.form === "text") {
    element.textContent = textOr(look.text, context, "");
    element.classList.add("letters");
    element.style.fontSize = units(side);
    element.style.color = color;
  } else {
    const drawing = newDrawing(document);
    const isStroked = look.form === "line" || look.form === "cross" || look.form === "ring";
    const measures = { w: side, h: side, lineWidth: isStroked ? side / 5 : 0, corners: 5, gap: 29 };
    const upright = look.form === "line" ? { ...measures, w: 0.01 } : measures;
    drawShape(drawing, look.form, upright, isStroked ? "none" : color, isStroked ? color : "none");
    if (look.form === "line") drawing.setAttribute("viewBox", `${-side / 2} ${-side / 2} ${side} ${side}`);
    element.append(drawing);
  }
  return element;
}
