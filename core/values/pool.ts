import { object } from "../shape/compound";
import { title } from "../shape/plain";
import type { Of, Shape } from "../shape/shape";
import { id, type Id } from "./ref";
import { trialTable, type TrialTable } from "./table";

const poolFields = object({ id, name: title(60), table: trialTable });
/** A further table of a study, from which columns of trial tables draw. Rows with 0 copies are left out. */
export interface Pool extends Of<typeof poolFields> {}
export const pool: Shape<Pool> = poolFields;

/** What has a table: a block or a pool. */
export type TableHolder = { id: Id; name: string; table: TrialTable };
