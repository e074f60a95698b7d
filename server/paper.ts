import { paperPiece, type PaperChange, type PaperPiece } from "../core/paper/piece";
import { hasShape } from "../core/shape/shape";
import { newId } from "./chance";
import { lockStudy } from "./database/locked";
import type { Store } from "./database/open";

/** A figure that is kept for the paper. */
export type KeptPiece = { id: string; piece: PaperPiece; isWithTable: boolean; since: string };

const mostPieces = 30;

/** The figures kept for a study’s paper, in their order. */
export async function paperOf({ db }: Pick<Store, "db">, studyId: string): Promise<KeptPiece[]> {
  const rows = await db
    .selectFrom("paper_piece")
    .selectAll()
    .where("study_id", "=", studyId)
    .orderBy("place")
    .orderBy("id")
    .execute();
  return rows.flatMap(({ id, piece: text, with_table, since }) => {
    const piece: unknown = JSON.parse(text);
    return hasShape(paperPiece, piece) ? [{ id, piece, isWithTable: with_table === 1, since }] : [];
  });
}

export type ChangedPaper = { ok: true; id: string } | { ok: false; reason: string };

/** Puts a figure into a study’s paper, moves it, or takes it out. No data are touched. */
export const changePaper = ({ db }: Store, studyId: string, change: PaperChange): Promise<ChangedPaper> =>
  db.transaction().execute(async (trx) => {
    await lockStudy(trx, studyId);
    const rows = await trx
      .selectFrom("paper_piece")
      .select(["id", "place"])
      .where("study_id", "=", studyId)
      .orderBy("place")
      .orderBy("id")
      .execute();
    if (change.do === "add") {
      if (rows.length >= mostPieces)
        return { ok: false, reason: `A paper has at most ${mostPieces} figures. Take one out first.` };
      const id = newId("piece");
      await trx
        .insertInto("paper_piece")
        .values({
          ...{ id, study_id: studyId, place: (rows.at(-1)?.place ?? -1) + 1, piece: JSON.stringify(change.piece) },
          ...{ with_table: 0, since: new Date().toISOString() },
        })
        .execute();
      return { ok: true, id };
    }
    const at = rows.findIndex(({ id }) => id === change.id);
    const own = rows[at];
    if (!own) return { ok: false, reason: "This figure is gone. Load the page again." };
    const ofPiece = trx.updateTable("paper_piece").where("id", "=", own.id);
    if (change.do === "remove") await trx.deleteFrom("paper_piece").where("id", "=", own.id).execute();
    else if (change.do === "table") await ofPiece.set({ with_table: change.isWith ? 1 : 0 }).execute();
    else {
      const other = rows[change.by === "up" ? at - 1 : at + 1];
      if (other) {
        await ofPiece.set({ place: other.place }).execute();
        await trx.updateTable("paper_piece").set({ place: own.place }).where("id", "=", other.id).execute();
      }
    }
    return { ok: true, id: own.id };
  });
