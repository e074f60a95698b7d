import { numbersOf, type Point } from "~/core/questions/points";
import { make } from "../pages/page";
import { choice } from "./elements";

type Points = { points: number; from: number; labels: string[]; numbers: boolean; apart?: string | undefined };

/** What stands at a point: its text, its number, or both. */
export function pointText({ from, labels, numbers }: Points, point: number): string {
  const label = labels[point - from] ?? "";
  return label !== "" ? label : numbers ? String(point) : "";
}

/** How screen readers call a point. */
const pointName = ({ from, labels }: Points, point: number): string => {
  const label = labels[point - from] ?? "";
  return label === "" ? String(point) : `${point}, ${label}`;
};

const keyOf = (point: Point) => (point === null ? "apart" : String(point));

/** Radio buttons for points; `text` gives what is written at each, which may be nothing. */
export function pointChoices(
  points: Points,
  name: string,
  value: Point | undefined,
  chosen: (point: Point) => void,
  text: (point: number) => string,
): { labels: HTMLLabelElement[]; apart: HTMLLabelElement | null; inputs: HTMLInputElement[]; clear: () => void } {
  const inputs: HTMLInputElement[] = [];
  const one = (point: Point, says: string, called: string) => {
    const { label, input } = choice("radio", name, keyOf(point), says, value !== undefined && value === point);
    label.classList.add("point");
    input.setAttribute("aria-label", called);
    input.addEventListener("change", () => chosen(point));
    inputs.push(input);
    return label;
  };
  const labels = numbersOf(points).map((point) => one(point, text(point), pointName(points, point)));
  const apart = points.apart === undefined ? null : one(null, points.apart, points.apart);
  apart?.classList.add("apart");
  return { labels, apart, inputs, clear: () => inputs.forEach((input) => (input.checked = false)) };
}

/** A row of cells for a table's head: what stands at each point. */
export const pointHeads = (points: Points): HTMLElement[] =>
  [
    ...numbersOf(points).map((point) => pointText(points, point)),
    ...(points.apart === undefined ? [] : [points.apart]),
  ].map((text) => make("span", "head", text));
