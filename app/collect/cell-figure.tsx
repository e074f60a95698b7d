import { useMemo } from "react";
import { emptyCells } from "~/core/balance/balance";
import { groupOfKey, schemeOf, shareOf } from "~/core/allocate/scheme";
import type { StudyDocument } from "~/core/design/document";
import { conditionColor } from "~/app/ribbon/palette";

type Props = {
  /** How many count in each cell, by its key. */
  counts: Record<string, number>;
  document: StudyDocument;
  /** So many finished sessions are wanted; undefined where that is not said. */
  target: number | undefined;
};
/** So many cells are drawn. */
const mostDrawn = 240;

/** Every cell of group and orders as a column that fills up, where there are more cells than groups. */
export function CellFigure({ counts, document, target }: Props) {
  const cells = useMemo(() => [...emptyCells(document).values()], [document]);
  if (cells.length <= document.groups.length || cells.length > mostDrawn) return null;
  const shares = document.groups.reduce((sum, group) => sum + shareOf(group), 0);
  const sizes = new Map(schemeOf(document).map(({ group, share, cells: size }) => [group, { share, size }]));
  const filled = cells.map((cell) => {
    const { share, size } = sizes.get(groupOfKey(cell.key)) ?? { share: 0, size: 1 };
    const wanted = target === undefined ? null : (target * share) / shares / size;
    return { ...cell, count: counts[cell.key] ?? 0, wanted };
  });
  const all = filled.map(({ count }) => count);
  const [least, most] = [Math.min(...all), Math.max(...all)];
  return (
    <div className="mt-1.5 flex flex-wrap items-end gap-x-3 gap-y-1 px-0.5 text-sm">
      <span className="text-muted">
        {cells.length} cells of group and order hold {least === most ? least : `${least} to ${most}`} each, counting
        those taking part now
      </span>
      <span className="flex h-6 items-end gap-[3px]" data-cells>
        {filled.map(({ key, group, orders, count, wanted }) => {
          const whole = wanted ?? Math.max(1, most);
          const says = `${group}, ${orders}: ${count}${wanted === null ? "" : ` of ${Number(wanted.toFixed(1))}`}`;
          return (
            <span key={key} role="img" aria-label={says} title={says} className="relative h-full w-2.5 bg-track">
              <span
                className="absolute bottom-0 left-0 w-full"
                style={{
                  height: `${Math.min(100, (100 * count) / whole)}%`,
                  background: conditionColor(document.groups.findIndex(({ id }) => id === groupOfKey(key))),
                }}
              />
            </span>
          );
        })}
      </span>
    </div>
  );
}
