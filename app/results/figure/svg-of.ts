import { fontFaces } from "~/app/components/font-faces";

/** What a drawing needs of the page's style to look the same by itself. */
const kept = [
  ...["fill", "fill-opacity", "stroke", "stroke-width", "stroke-opacity", "stroke-dasharray", "opacity"],
  ...["font-family", "font-size", "font-weight", "font-style", "text-anchor"],
];
const ofSvg = "http://www.w3.org/2000/svg";
/** Room below what is lowest. */
const below = 6;

function element(name: string, attributes: Record<string, string>): SVGElement {
  const made = document.createElementNS(ofSvg, name);
  for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, value);
  return made as SVGElement;
}

/** A copy of a drawing that carries its style with it. */
function styled(drawn: SVGSVGElement): SVGSVGElement {
  const copy = drawn.cloneNode(true) as SVGSVGElement;
  const copies = [copy, ...copy.querySelectorAll<SVGElement>("*")];
  for (const [at, each] of [drawn, ...drawn.querySelectorAll<SVGElement>("*")].entries()) {
    const style = getComputedStyle(each);
    for (const name of kept) {
      copies[at]?.removeAttribute(name);
      copies[at]?.style.setProperty(name, style.getPropertyValue(name));
    }
    copies[at]?.removeAttribute("class");
  }
  return copy;
}

/** The drawing of a figure with its legend as a file of its own, with its fonts, in the colours of paper; null where nothing is drawn. */
export async function svgOf(figure: HTMLElement): Promise<string | null> {
  const drawn = figure.querySelector<SVGSVGElement>("svg.recharts-surface");
  if (!drawn) return null;
  figure.classList.add("on-paper");
  const place = drawn.getBoundingClientRect();
  const copy = styled(drawn);
  let bottom = place.bottom;
  // What the page writes below the drawing stands in the same place within it.
  for (const entry of figure.querySelectorAll<HTMLElement>("[data-legend] > span")) {
    const sign = entry.querySelector("svg");
    const box = entry.getBoundingClientRect();
    const style = getComputedStyle(entry);
    const signBox = sign?.getBoundingClientRect();
    if (sign && signBox) {
      const own = styled(sign);
      own.setAttribute("x", String(signBox.left - place.left));
      own.setAttribute("y", String(signBox.top - place.top));
      copy.append(own);
    }
    const text = element("text", {
      x: String((signBox?.right ?? box.left) + below - place.left),
      y: String((box.top + box.bottom) / 2 - place.top),
      "dominant-baseline": "central",
      style: `fill: ${style.color}; font-family: ${style.fontFamily.replaceAll('"', "'")}; font-size: ${style.fontSize}`,
    });
    text.textContent = entry.textContent;
    copy.append(text);
    bottom = Math.max(bottom, box.bottom);
  }
  figure.classList.remove("on-paper");
  const [width, height] = [place.width, bottom - place.top + below];
  copy.setAttribute("xmlns", ofSvg);
  copy.setAttribute("width", String(width));
  copy.setAttribute("height", String(height));
  copy.setAttribute("viewBox", `0 0 ${width} ${height}`);
  copy.removeAttribute("tabindex");
  copy.prepend(element("rect", { width: "100%", height: "100%", fill: "#ffffff" }));
  const faces = element("style", {});
  faces.textContent = await fontFaces();
  copy.prepend(faces);
  return new XMLSerializer().serializeToString(copy);
}
