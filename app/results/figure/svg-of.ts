/** What a drawing needs of the page's style to look the same by itself. */
const kept = [
  ...["fill", "fill-opacity", "stroke", "stroke-width", "stroke-opacity", "stroke-dasharray", "opacity"],
  ...["font-family", "font-size", "font-weight", "font-style", "text-anchor"],
];
const ofSvg = "http://www.w3.org/2000/svg";
/** Room below what is lowest. */
const below = 6;

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

/** The drawing of a figure with its legend as a file of its own, in the colours of paper; null where nothing is drawn. */
export function svgOf(figure: HTMLElement): { svg: string; width: number; height: number } | null {
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
    const text = document.createElementNS(ofSvg, "text");
    text.textContent = entry.textContent;
    text.setAttribute("x", String((signBox?.right ?? box.left) + below - place.left));
    text.setAttribute("y", String((box.top + box.bottom) / 2 - place.top));
    text.setAttribute("dominant-baseline", "central");
    text.setAttribute(
      "style",
      `fill: ${style.color}; font-family: ${style.fontFamily.replaceAll('"', "'")}; font-size: ${style.fontSize}`,
    );
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
  return { svg: new XMLSerializer().serializeToString(copy), width, height };
}
