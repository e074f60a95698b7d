import type { ShapeItem } from "~/core/items/shape/shape";
import { drawShape, newDrawing } from "../draw-shape";
import { holding, numberOr, setPosition, sized, textOr, type ItemDrawer } from "../item-drawer";

export const drawer: ItemDrawer<ShapeItem> = {
  create: (document) => {
    const element = holding("shape", "span")(document);
    element.replaceChildren(newDrawing(document));
    return element;
  },
  update: (element, item, { context }) => {
    setPosition(element, item, context);
    element.style.opacity = String(numberOr(item.opacity, context, 100) / 100);
    const measures = {
      ...sized(element, item.size, context),
      lineWidth: numberOr(item.lineWidth, context, 0),
      corners: numberOr(item.corners, context, 5),
      gap: numberOr(item.gap, context, 0),
    };
    const [fill, line] = [textOr(item.fill, context, "transparent"), textOr(item.line, context, "transparent")];
    drawShape(element.firstElementChild as SVGSVGElement, item.form, measures, fill, line);
  },
};
