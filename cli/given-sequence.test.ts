import { expect, it } from "vitest";
import { released } from "~/tests/support/store";
import { plainStudy } from "~/tests/support/studies";
import { addGroup } from "../core/design/edits/study";
import { applyEdit } from "../core/design/edits/edit";
import { newSecret } from "../server/chance";
import { setExcluded, startSession } from "../server/sessions";
import { givenPartsTable, givenSequenceTable, sequenceTable } from "./sequence";

it("what participants were given is told where it differs from the plan, since a place was given back", async () => {
  const document = applyEdit(plainStudy(), addGroup({ id: "late", name: "Late" })).document;
  const { store, study, link } = await released(document);
  const start = async () => {
    const started = await startSession(store, link.token, newSecret(), "test browser");
    if (!started.ok) throw new Error(started.reason);
    return started.session;
  };
  const first = await start();
  await setExcluded(store, study.id, first.session, true);
  const others = [await start(), await start(), await start()];
  const nameOf = (group: string) => document.groups.find(({ id }) => id === group)?.name;
  const { header, rows } = await givenSequenceTable(store, study);
  expect(header.slice(0, 4)).toEqual(["release", "session", "participant", "group_name"]);
  for (const session of [first, ...others]) {
    const own = rows.filter((row) => row[1] === session.session);
    expect(own.map((row) => row[3])).toEqual([nameOf(session.group), nameOf(session.group)]);
  }
  // The second participant got the first one's place: the plan, in which no one drops out, says otherwise.
  const groupOf = (table: { header: string[]; rows: unknown[][] }, participant: number) => {
    const [who, group] = ["participant", "group_name"].map((name) => table.header.indexOf(name));
    return table.rows.find((row) => row[who!] === participant)?.[group!];
  };
  const planned = sequenceTable(document, [1, 2]);
  expect(groupOf({ header, rows }, 2)).toBe(groupOf({ header, rows }, 1));
  expect(groupOf(planned, 2)).not.toBe(groupOf(planned, 1));
  const parts = await givenPartsTable(store, study);
  expect(parts.rows.filter((row) => row[1] === first.session).map((row) => row[5])).toEqual([
    "Welcome",
    "Block 1",
    "Goodbye",
  ]);
});
