import type { Point } from "~/core/questions/points";
import type { Id } from "~/core/values/ref";
import { make } from "../pages/page";
import type { DrawnQuestion } from "./drawer";
import { group, setAll } from "./elements";
import { pointChoices, pointHeads, pointText } from "./points";

type Points = { points: number; from: number; labels: string[]; numbers: boolean; apart?: string | undefined };
type Line = { id: Id; before: string; after?: string };

/** Lines rated on the same points: one row each, one under the other where it is narrow. */
export function drawRated(
  asking: { labelledBy: string; describedBy: string; groupName: string },
  points: Points,
  lines: readonly Line[],
  value: Record<Id, Point> | null,
  answer: (each: Record<Id, Point> | null) => void,
  hasHead: boolean,
): DrawnQuestion {
  const each: Record<Id, Point> = { ...value };
  const element = group(asking, "group", `rated ${hasHead ? "headed" : "between"}`);
  element.style.setProperty("--points", String(points.points + (points.apart === undefined ? 0 : 1)));
  if (hasHead) {
    const head = setAll(make("div", "row heads"), { "aria-hidden": "true" });
    head.append(make("span", ""), ...pointHeads(points));
    element.append(head);
  }
  const rows = lines.map(({ id, before, after }) => {
    const row = make("div", "row");
    const name = `${asking.groupName}-${id}`;
    const says = setAll(make("span", "line"), { id: `${name}-says` });
    says.textContent = before;
    setAll(row, {
      role: "radiogroup",
      "aria-labelledby": `${name}-says${after === undefined ? "" : ` ${name}-after`}`,
    });
    const choices = pointChoices(
      points,
      name,
      each[id],
      (point) => {
        each[id] = point;
        answer({ ...each });
      },
      (point) => pointText(points, point),
    );
    row.append(says, ...choices.labels);
    if (after !== undefined) {
      const end = setAll(make("span", "line after"), { id: `${name}-after` });
      end.textContent = after;
      row.append(end);
    }
    if (choices.apart) row.append(choices.apart);
    element.append(row);
    return { id, choices };
  });
  return {
    element,
    focus: () => {
      const open = rows.find(({ id }) => !Object.hasOwn(each, id)) ?? rows[0];
      open?.choices.inputs[0]?.focus();
    },
    clear: () => {
      for (const { id, choices } of rows) {
        choices.clear();
        delete each[id];
      }
    },
  };
}

/** Lines in the order drawn for this participant. */
export const linesInOrder = <L extends { id: Id }>(lines: readonly L[], order: Id[] | null): readonly L[] =>
  order ? order.flatMap((id) => lines.find((line) => line.id === id) ?? []) : lines;
