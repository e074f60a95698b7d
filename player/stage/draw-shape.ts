import type { ShapeForm } from "~/core/items/shape/shape";

const svg = "http://www.w3.org/2000/svg";

/** What a shape is drawn from, in stage units and degrees. */
export type ShapeMeasures = { w: number; h: number; lineWidth: number; corners: number; gap: number };
type Drawn = { tag: string; attributes: Record<string, number | string> };

/** Corners on an ellipse, the first at the top, every second drawn in to `inner` of its radius. */
const around = (count: number, { w, h }: ShapeMeasures, inner = 1): string =>
  Array.from({ length: count }, (_, index) => {
    const angle = (index / count) * 2 * Math.PI;
    const reach = index % 2 === 0 ? 1 : inner;
    return `${(w / 2) * reach * Math.sin(angle)},${(-h / 2) * reach * Math.cos(angle)}`;
  }).join(" ");
const whole = (count: number, least: number) => Math.max(least, Math.min(60, Math.round(count)));

/** What each form draws inside a box of w × h units whose centre is the origin. */
const forms: Record<ShapeForm, (measures: ShapeMeasures) => Drawn> = {
  rectangle: ({ w, h }) => ({ tag: "rect", attributes: { x: -w / 2, y: -h / 2, width: w, height: h } }),
  ellipse: ({ w, h }) => ({ tag: "ellipse", attributes: { cx: 0, cy: 0, rx: w / 2, ry: h / 2 } }),
  line: ({ w, h }) => ({ tag: "line", attributes: { x1: -w / 2, y1: h / 2, x2: w / 2, y2: -h / 2 } }),
  arrow: ({ w, h }) => {
    const neck = w / 2 - Math.min(w * 0.6, h * 0.8);
    const d = `M${-w / 2} ${-h / 6}H${neck}V${-h / 2}L${w / 2} 0L${neck} ${h / 2}V${h / 6}H${-w / 2}Z`;
    return { tag: "path", attributes: { d } };
  },
  cross: ({ w, h }) => ({ tag: "path", attributes: { d: `M${-w / 2} 0H${w / 2}M0 ${-h / 2}V${h / 2}` } }),
  polygon: (measures) => ({
    tag: "polygon",
    attributes: { points: around(whole(measures.corners, 3), measures) },
  }),
  star: (measures) => ({
    tag: "polygon",
    attributes: { points: around(2 * whole(measures.corners, 2), measures, 0.45) },
  }),
  ring: ({ w, h, lineWidth, gap }) => {
    const [rx, ry] = [Math.max(0, (w - lineWidth) / 2), Math.max(0, (h - lineWidth) / 2)];
    const half = (Math.max(0, Math.min(359.9, gap)) / 2) * (Math.PI / 180);
    if (half === 0) return { tag: "ellipse", attributes: { cx: 0, cy: 0, rx, ry, fill: "none" } };
    const [x, y] = [rx * Math.cos(half), ry * Math.sin(half)];
    return {
      tag: "path",
      attributes: { d: `M${x} ${y}A${rx} ${ry} 0 ${half < Math.PI / 2 ? 1 : 0} 1 ${x} ${-y}`, fill: "none" },
    };
  },
};

/** Draws a form into an svg element, filling it. */
export function drawShape(
  into: SVGSVGElement,
  form: ShapeForm,
  measures: ShapeMeasures,
  fill: string,
  line: string,
): void {
  const { w, h, lineWidth } = measures;
  into.setAttribute("viewBox", `${-w / 2} ${-h / 2} ${w} ${h}`);
  const { tag, attributes } = forms[form](measures);
  const drawn = into.ownerDocument.createElementNS(svg, tag);
  const styled = { fill, stroke: line, "stroke-width": lineWidth, ...attributes };
  for (const [name, value] of Object.entries(styled)) drawn.setAttribute(name, String(value));
  into.replaceChildren(drawn);
}

/** An empty svg element that fills what it is put into. */
export const newDrawing = (document: Document): SVGSVGElement => document.createElementNS(svg, "svg");
