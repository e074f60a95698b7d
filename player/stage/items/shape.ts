import type { ShapeForm, ShapeItem } from "~/core/design/types";
import { numberOr, place, textOr, units, type ItemDrawer } from "./kind";

const svg = "http://www.w3.org/2000/svg";

/** What each form draws inside a box of w × h units whose centre is the origin. */
const forms: Record<ShapeForm, (w: number, h: number) => { tag: string; attributes: Record<string, number | string> }> =
  {
    rectangle: (w, h) => ({ tag: "rect", attributes: { x: -w / 2, y: -h / 2, width: w, height: h } }),
    ellipse: (w, h) => ({ tag: "ellipse", attributes: { cx: 0, cy: 0, rx: w / 2, ry: h / 2 } }),
    line: (w, h) => ({ tag: "line", attributes: { x1: -w / 2, y1: h / 2, x2: w / 2, y2: -h / 2 } }),
    cross: (w, h) => ({ tag: "path", attributes: { d: `M${-w / 2} 0H${w / 2}M0 ${-h / 2}V${h / 2}` } }),
  };

export const shape: ItemDrawer<ShapeItem> = {
  create: (document) => {
    const element = document.createElement("div");
    element.className = "item shape";
    element.append(document.createElementNS(svg, "svg"));
    return element;
  },
  update: (element, item, { context }) => {
    place(element, item, context);
    const [w, h] = [numberOr(item.size.w, context, 10), numberOr(item.size.h, context, 10)];
    element.style.width = units(w);
    element.style.height = units(h);
    const drawing = element.firstElementChild as SVGSVGElement;
    drawing.setAttribute("viewBox", `${-w / 2} ${-h / 2} ${w} ${h}`);
    const { tag, attributes } = forms[item.form](w, h);
    const form = element.ownerDocument.createElementNS(svg, tag);
    for (const [name, value] of Object.entries(attributes)) form.setAttribute(name, String(value));
    form.setAttribute("fill", textOr(item.fill, context, "transparent"));
    form.setAttribute("stroke", textOr(item.line, context, "transparent"));
    form.setAttribute("stroke-width", String(numberOr(item.lineWidth, context, 0)));
    drawing.replaceChildren(form);
  },
};
