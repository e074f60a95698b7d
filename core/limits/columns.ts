import { list } from "../shape/compound";
import { id, scalar } from "../values/ref";

/** Columns that are looked at together, as one combination; none means the row itself. */
export const limitedColumns = list(id, 0, 20);
/** Values of a column that are meant. */
export const limitedValues = list(scalar, 0, 1000);
