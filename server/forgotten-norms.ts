import type { Transaction } from "kysely";
import { norm as normShape, type Norm } from "../core/persons/norm";
import { hasShape } from "../core/shape/shape";
import type { Tables } from "./database/tables";

/**
 * Takes sessions that are removed out of the norm samples that were made of a study's own scores. A sample of which too few remain
 * goes as a whole.
 */
export async function forgetInNorms(
  trx: Transaction<Tables>,
  studyId: string,
  sessions: readonly string[],
): Promise<void> {
  const gone = new Set(sessions);
  const rows = await trx.selectFrom("norm_sample").select(["id", "norm"]).where("study_id", "=", studyId).execute();
  for (const { id, norm } of rows) {
    const before = JSON.parse(norm) as Norm;
    const isIn = before.bands.some(
      ({ values }) => values.kind === "own" && values.scores.some(({ session }) => gone.has(session)),
    );
    if (!isIn) continue;
    const after = {
      ...before,
      bands: before.bands.map((band) => {
        if (band.values.kind !== "own") return band;
        const scores = band.values.scores.filter(({ session }) => !gone.has(session));
        return { ...band, n: Math.max(1, scores.length), values: { ...band.values, scores } };
      }),
    };
    if (hasShape(normShape, after))
      await trx
        .updateTable("norm_sample")
        .set({ norm: JSON.stringify(after) })
        .where("id", "=", id)
        .execute();
    else await trx.deleteFrom("norm_sample").where("id", "=", id).execute();
  }
}
