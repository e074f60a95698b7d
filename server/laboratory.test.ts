import { describe, expect, it } from "vitest";
import { freshOwner, released } from "../tests/support/store";
import { plainStudy } from "../tests/support/studies";
import { keepComputerTest, listComputerTests } from "./computer-tests";
import { computerOfSecret, computersOf, dismiss, enrol, openList } from "./lab-computers";
import { labList } from "./laboratory";
import { startInLab } from "./sessions";
import { addNote } from "./session-view";
import { addStudy } from "./studies";
import { deedsIn } from "./study-log";
import { wavesOf } from "./waves";

const key = "tide-7";
async function laboratory() {
  const { store, study } = await released();
  const account = study.ownerId;
  const secret = await enrol(store, [study], { name: "Laboratory 2", key, account, by: "the owner" });
  const computer = await computerOfSecret(store, secret);
  const [wave] = await wavesOf(store.db, study.id);
  if (!computer || !wave) throw new Error("not enrolled");
  const start = (participant: number | null) =>
    startInLab(store, study.id, wave.id, { participant, group: null, parameters: {} }, "a browser", computer.id);
  const list = (seesGroups: boolean) => labList(store, { id: study.id, title: "Boats" }, null, seesGroups);
  return { store, study, secret, computer, start, list };
}

describe("a laboratory's computer", () => {
  it("is known by its secret, for the studies it was enrolled for, until it is dismissed", async () => {
    const { store, study, secret, computer } = await laboratory();
    expect(computer).toMatchObject({ name: "Laboratory 2", isLocked: false, studies: [study.id] });
    expect(await computerOfSecret(store, `${secret}x`)).toBeNull();
    expect(JSON.stringify(await store.db.selectFrom("lab_computer").selectAll().execute())).not.toContain(secret);
    const other = await addStudy(store, await freshOwner(store, "other@lapwing.example"), plainStudy());
    expect(await dismiss(store, other, computer.id, "other")).toMatch("no such computer");
    expect(await dismiss(store, study, computer.id, "the owner")).toBeNull();
    expect(await computerOfSecret(store, secret)).toBeNull();
    expect((await deedsIn(store, study, { kind: "rights" })).map(({ what }) => what)).toEqual([
      "The laboratory’s computer “Laboratory 2” may no longer start sessions.",
      "The laboratory’s computer “Laboratory 2” may start sessions.",
    ]);
  });

  it("closes its list when a session starts, and opens it with the key, which cannot be tried out", async () => {
    const { store, secret, computer, start } = await laboratory();
    expect(await start(null)).toMatchObject({ ok: true });
    expect((await computerOfSecret(store, secret))?.isLocked).toBe(true);
    expect(await openList(store, computer, "ebb-7")).toMatch("not the key");
    expect((await computerOfSecret(store, secret))?.isLocked).toBe(true);
    expect(await openList(store, computer, key)).toBeNull();
    expect((await computerOfSecret(store, secret))?.isLocked).toBe(false);
    const tries = [];
    for (let index = 0; index < 8; index++) tries.push(await openList(store, computer, `guess-${index}`));
    expect(tries.at(-1)).toMatch("tried too often");
    // The right one waits, too.
    expect(await openList(store, computer, key)).toMatch("tried too often");
  });

  it("is listed with its last self-test, which is its own", async () => {
    const { store, study, computer } = await laboratory();
    expect((await computersOf(store, study.id))[0]?.tested).toBeNull();
    const result = (verdict: string) => ({ verdict: [verdict] }) as unknown as Parameters<typeof keepComputerTest>[3];
    const who = { id: computer.accountId, computer };
    await keepComputerTest(store, { id: computer.accountId }, "my own", result("late"));
    await keepComputerTest(store, who, computer.name, result("exact"));
    expect((await computersOf(store, study.id))[0]?.tested?.verdict).toBe("exact");
    expect((await listComputerTests(store, who)).map((test) => test.computer)).toEqual(["Laboratory 2"]);
  });
});

describe("the laboratory's list", () => {
  it("says who is next and who was here, with notes, and names groups only to those who may see them", async () => {
    const { store, study, start, list } = await laboratory();
    expect(await list(false)).toMatchObject({ next: 1, lines: [], due: [], groups: null });
    const first = await start(null);
    await start(7);
    await addNote(store, study.id, first.ok ? first.session : "", { by: "Laboratory 2", text: "Blind closed." });
    const seen = await list(false);
    expect(seen.next).toBe(8);
    expect(seen.lines.map(({ participant, group, state }) => [participant, group, state])).toEqual([
      [7, null, "active"],
      [1, null, "active"],
    ]);
    expect(seen.lines[1]?.notes).toMatchObject([{ by: "Laboratory 2", text: "Blind closed." }]);
    const named = await list(true);
    expect(named.lines.every(({ group }) => typeof group === "string")).toBe(true);
  });
});
