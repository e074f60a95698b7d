import type { Eye } from "~/core/gaze/calibrate";
import { isGoodEnough, type EyeQuality, type Validation } from "~/core/gaze/validate";
import { make } from "../pages/page";

/** What is to happen after a calibration was looked at. */
export type Verdict = "go-on" | "all" | { point: number };

const space = "http://www.w3.org/2000/svg";
const degrees = (value: number) => `${value.toFixed(value < 10 ? 2 : 1)}°`;
const svg = (name: string, attributes: Record<string, string | number>, text = "") => {
  const element = document.createElementNS(space, name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, String(value));
  if (text !== "") element.textContent = text;
  return element;
};

/** The worst of both together, where a point stands out. */
export function worstPoint({ points }: Validation): number | null {
  const off = points.map(({ both }) => both?.accuracy ?? Infinity);
  const worst = off.indexOf(Math.max(...off));
  return worst < 0 ? null : worst;
}

/** What the numbers mean, in a sentence. */
export function verdictInWords(found: Validation, asked: number): string {
  const { both } = found.all;
  if (!both) return "No eye was seen while the points were looked at.";
  const unseen = found.points.filter((point) => point.both === null).length;
  if (unseen > 0) return `At ${unseen} of ${found.points.length} points no eye was seen.`;
  const off = `In the mean gaze is off by ${degrees(both.accuracy)}; the study asks for ${asked}°.`;
  const isFar = (found.worst ?? 0) > 2 * asked ? ` At one point it is off by ${degrees(found.worst ?? 0)}.` : "";
  return `${isGoodEnough(found, asked) ? "Good enough." : "Not good enough."} ${off}${isFar}`;
}

/** Points on a small stage: in and around each disc, whose radius is what the study asks for, where each eye was taken to look. */
function drawing(found: Validation, half: { x: number; y: number }, asked: number): SVGSVGElement {
  const radius = 14;
  const chart = document.createElementNS(space, "svg");
  const [wide, high] = [300, (300 * half.y) / half.x];
  chart.setAttribute("viewBox", `0 0 ${wide} ${high}`);
  chart.setAttribute("role", "img");
  chart.setAttribute("aria-label", "How far gaze was off at each point");
  chart.append(svg("rect", { x: 0.5, y: 0.5, width: wide - 1, height: high - 1, class: "ground" }));
  for (const point of found.points) {
    const [x, y] = [wide / 2 + (point.x / half.x) * (wide / 2), high / 2 - (point.y / half.y) * (high / 2)];
    chart.append(svg("circle", { cx: x, cy: y, r: radius, class: "disc" }));
    chart.append(svg("path", { d: `M${x - 3} ${y}h6M${x} ${y - 3}v6`, class: "cross" }));
    for (const [eye, letter] of [
      ["left", "L"],
      ["right", "R"],
    ] as const) {
      const quality = point[eye];
      if (!quality) continue;
      // The disc is as wide as the study asks for; what is further off stands at its rim.
      const far = Math.max(1, quality.accuracy / asked / 1.2);
      const [offX, offY] = [quality.off.x / asked / far, quality.off.y / asked / far];
      chart.append(svg("text", { x: x + offX * radius, y: y - offY * radius + 3, class: `eye ${eye}` }, letter));
    }
    const isWide = (point.both?.accuracy ?? Infinity) > asked;
    const off = point.both ? degrees(point.both.accuracy) : "not seen";
    chart.append(svg("text", { x, y: y + radius + 11, class: isWide ? "off wide" : "off" }, off));
  }
  return chart;
}

function table(found: Validation, distance: number | null): HTMLElement {
  const { left, right, both } = found.all;
  const list = make("dl", "gaze-numbers");
  const row = (name: string, value: string) => list.append(make("dt", "", name), make("dd", "", value));
  const of = (quality: EyeQuality | null, name: keyof EyeQuality) => (quality ? degrees(quality[name]) : "not seen");
  const eye: Record<Eye, EyeQuality | null> = { left, right };
  for (const which of ["left", "right"] as const) row(`accuracy, ${which} eye`, of(eye[which], "accuracy"));
  row("accuracy at the worst point", found.worst === null ? "not seen" : degrees(found.worst));
  row("precision (RMS)", of(both, "rms"));
  row("precision (SD)", of(both, "sd"));
  row("lost samples", both ? `${(both.lost * 100).toFixed(1)} %` : "all");
  if (distance !== null) row("distance of the eyes", `${distance.toFixed(0)} cm`);
  return list;
}

/** Shows what came of a calibration, and what can be done; settled with what is chosen. */
export function showResult(
  into: HTMLElement,
  found: Validation,
  half: { x: number; y: number },
  { asked, distance, counts }: { asked: number; distance: number | null; counts: string },
): Promise<Verdict> {
  const page = make("div", "page gaze-page");
  const title = make("h1", "");
  title.append(make("b", "", "Calibration."), ` ${counts}`);
  const row = make("div", "gaze-row");
  row.append(drawing(found, half, asked), table(found, distance));
  const says = make("p", "gaze-says", verdictInWords(found, asked));
  says.setAttribute("role", "status");
  const buttons = make("div", "buttons");
  const isGood = isGoodEnough(found, asked);
  const button = (label: string, isPlain: boolean) => {
    const made = make("button", isPlain ? "second" : "", label);
    made.type = "button";
    buttons.append(made);
    return made;
  };
  const go = button(isGood ? "Go on" : "Go on all the same", !isGood);
  const point = button("The worst point again", true);
  const all = button("All again", isGood);
  page.append(title, row, says, buttons);
  into.replaceChildren(page);
  (isGood ? go : all).focus({ preventScroll: true });
  return new Promise((resolve) => {
    go.addEventListener("click", () => resolve("go-on"));
    point.addEventListener("click", () => resolve({ point: worstPoint(found) ?? 0 }));
    all.addEventListener("click", () => resolve("all"));
  });
}
