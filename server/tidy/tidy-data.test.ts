import { existsSync, readFileSync, writeFileSync } from "node:fs";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { freshFolder, freshStore, isOnPostgres, released } from "~/tests/support/store";
import { studyWithOpening } from "~/tests/support/forms";
import { adult, playedBy } from "~/tests/support/opening";
import { firstBlock } from "~/tests/support/studies";
import { applyEdit } from "../../core/design/edits/edit";
import { setColumn } from "../../core/design/edits/table";
import { tidyTableNames, tidyTables } from "../../core/export/tidy-tables";
import { rowOf } from "../../core/export/tables/table";
import type { Place } from "../../core/order/place";
import type { SessionData } from "../../core/run/session-data";
import { cellAt } from "../../core/tidy/column";
import type { Cell, DataColumn } from "../../core/values/data-column";
import { newSecret } from "../chance";
import type { Store } from "../database/open";
import { DataReader } from "../export/reader";
import { rowsOfBatch } from "../export/written";
import { deleteSession } from "../forgetting";
import { appendRecords } from "../records";
import { freezeRelease } from "../releases";
import { placeSession } from "../places";
import { setExcluded, startSession } from "../sessions";
import { findStudyById, saveEdit } from "../studies";
import { tidyIn } from "./database";
import { pruneTidy } from "./forget";
import { gather, wholeSession } from "./gather";
import { rebuild, withTidy } from "./tidy-data";

const presentStudy = async (store: Store, id: string) => {
  const study = await findStudyById(store, id);
  if (!study) throw new Error("the study is gone");
  return study;
};

/** All rows of all tables as they are unfolded out of the records, and as they are kept: by rows, by columns and one by one. */
async function bothWays(store: Store, studyId: string) {
  const reader = await DataReader.open(store, await presentStudy(store, studyId), { pilots: false });
  const unfolded: Record<string, Cell[][]> = {};
  const kept: Record<string, Cell[][]> = {};
  for (const table of tidyTableNames) {
    const columns = tidyTables[table].columns(reader.documents) as readonly DataColumn<unknown>[];
    const names = columns.map(({ name }) => name);
    const rows: Cell[][] = [];
    const inFull = await reader.inFull(reader.sittings);
    for (const sitting of reader.sittings) {
      const own = inFull.get(sitting.row.id);
      if (!own) throw new Error("no such session");
      for (const source of tidyTables[table].rows(await wholeSession(reader, sitting, own)))
        rows.push(rowOf(columns, source));
    }
    unfolded[table] = rows;
    kept[table] = await withTidy(store, reader, async (data) => {
      const read: Cell[][] = [];
      for await (const batch of data.batches(table, names)) read.push(...rowsOfBatch(batch).map((row) => [...row]));
      const byColumn = await Promise.all(names.map((name) => data.column(table, name)));
      expect(read.map((_, row) => byColumn.map((column) => cellAt(column, row)))).toEqual(read);
      const some = read.flatMap((_, row) => (row % 3 === 1 ? [row] : [])).reverse();
      expect(await data.cells(table, some, names)).toEqual(some.map((row) => read[row]));
      return read;
    });
  }
  return { unfolded, kept };
}

/** Its questions come before its trials, so that every table has something to hold. */
const document = studyWithOpening();
const by = { by: "ann@harbour.example" };
type Played = { secret: string; session: SessionData; place: Place | undefined; sent: number };

async function begun(store: Store, token: string): Promise<Played> {
  const secret = newSecret();
  const started = await startSession(store, token, secret, "test browser");
  if (!started.ok) throw new Error(started.reason);
  return { secret, session: started.session, place: undefined, sent: 0 };
}

/** Sends so many of the records that come next; asks for the place once all before it are there. */
async function send(store: Store, one: Played, many: number): Promise<void> {
  const { all, before } = playedBy(one.session, adult, one.place);
  const next = (one.place ? all : before).slice(one.sent, one.sent + many);
  if (next.length > 0) {
    const answer = await appendRecords(store, one.secret, next);
    expect(answer).toMatchObject({ ok: true, acknowledged: one.sent + next.length });
    one.sent += next.length;
  }
  if (one.place || one.sent < before.length) return;
  const placed = await placeSession(store, one.secret);
  expect(placed.ok).toBe(true);
  if (placed.ok) one.place = placed.place;
}

describe("the tidy rows", () => {
  it("are what unfolding the records gives, whatever came since they were made", async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(
          fc.oneof(
            fc.record({ do: fc.constant("begin" as const) }),
            fc.record({ do: fc.constant("send" as const), which: fc.nat(20), many: fc.integer({ min: 1, max: 6 }) }),
            fc.record({ do: fc.constantFrom("leave-out", "delete", "look", "rename"), which: fc.nat(20) }),
          ),
          { minLength: 3, maxLength: 14 },
        ),
        async (steps) => {
          const { store, study, link } = await released(document);
          const played: Played[] = [await begun(store, link.token), await begun(store, link.token)];
          let names = 0;
          for (const step of steps) {
            if (step.do === "begin") {
              played.push(await begun(store, link.token));
              continue;
            }
            const one = played[step.which % Math.max(1, played.length)];
            if (!one) continue;
            if (step.do === "send" && "many" in step) await send(store, one, step.many);
            if (step.do === "leave-out") await setExcluded(store, study.id, one.session.session, step.which % 2 === 0);
            if (step.do === "delete") {
              await deleteSession(store, study, one.session.session, by);
              played.splice(played.indexOf(one), 1);
            }
            if (step.do === "look") {
              const { unfolded, kept } = await bothWays(store, study.id);
              expect(kept).toEqual(unfolded);
            }
            if (step.do === "rename") {
              const now = await presentStudy(store, study.id);
              const block = firstBlock(now.document);
              const column = block.table.columns[0];
              if (!column) throw new Error("no column");
              const edit = setColumn(block.id, column.id, { name: `called_${++names}` });
              const { patches, inverse } = applyEdit(now.document, edit);
              await saveEdit(store, study.id, now.revision, patches, inverse);
              const frozen = await freezeRelease(store, await presentStudy(store, study.id), "Renamed.", {
                waves: [link.waveId],
              });
              expect(frozen.ok).toBe(true);
            }
          }
          const { unfolded, kept } = await bothWays(store, study.id);
          expect(kept).toEqual(unfolded);
          await store.close();
        },
      ),
      { numRuns: 12 },
    );
  });

  it("are made of those sessions only that are new or went on", async () => {
    const { store, study, link } = await released(document);
    const [one, other] = [await begun(store, link.token), await begun(store, link.token)];
    const made = async () =>
      gather(store, await DataReader.open(store, await presentStudy(store, study.id), { pilots: false }));
    expect(await made()).toBe(2);
    expect(await made()).toBe(0);
    await send(store, one, 1);
    const reader = await DataReader.open(store, await presentStudy(store, study.id), { pilots: false });
    expect(await gather(store, reader, ({ row }) => row.state !== "active")).toBe(0);
    expect(await made()).toBe(1);
    await setExcluded(store, study.id, other.session.session, true);
    expect(await made()).toBe(1);
    expect((await rebuild(store, study)).sessions).toBe(2);
    expect(await made()).toBe(0);
  });

  it("of what was removed are gone at once, also from the disk", async () => {
    const folder = freshFolder();
    const { store, study, link } = await released(document, folder);
    const one = await begun(store, link.token);
    const { session } = one.session;
    await send(store, one, 1);
    await rebuild(store, study);
    const tidy = await store.tidy();
    expect(await tidy.selectFrom("tidy_cells").select("name").where("session_id", "=", session).execute()).not.toEqual(
      [],
    );
    await deleteSession(store, study, session, by);
    expect(await tidy.selectFrom("tidy_cells").selectAll().execute()).toEqual([]);
    expect(await tidy.selectFrom("tidy_session").selectAll().execute()).toEqual([]);
    if (!isOnPostgres)
      for (const end of ["", "-wal"])
        if (existsSync(tidyIn(folder) + end)) expect(readFileSync(tidyIn(folder) + end).includes(session)).toBe(false);
  });

  it("of sessions that the database has no longer are removed", async () => {
    const { store, study, link } = await released(document);
    await begun(store, link.token);
    await rebuild(store, study);
    for (const table of ["session_codes", "session"] as const) await store.db.deleteFrom(table).execute();
    expect(await pruneTidy(store)).toBe(1);
    expect(await pruneTidy(store)).toBe(0);
  });

  it.skipIf(isOnPostgres)("are made anew where their file is no longer whole", async () => {
    const folder = freshFolder();
    const { store, study, link } = await released(document, folder);
    await begun(store, link.token);
    await rebuild(store, study);
    await store.close();
    for (const end of ["-wal", "-shm"]) writeFileSync(tidyIn(folder) + end, "");
    writeFileSync(tidyIn(folder), "no database at all, but a good many letters of something else".repeat(200));
    const again = await freshStore(folder);
    const reader = await DataReader.open(again, study, { pilots: false });
    expect(await gather(again, reader)).toBe(1);
  });
});
