import { mostCurves } from "~/core/stats/distributions";

/** What is said where a column has more values than one figure can show. */
export const TooMany = ({ column, count }: { column: string; count: number }) => (
  <p className="mt-4 rounded-md border border-hairline bg-sheet p-6 text-muted">
    {column} has {count.toLocaleString("en")} different values; a figure shows at most {mostCurves}. Choose another
    column.
  </p>
);
