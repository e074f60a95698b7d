import { afterAll, beforeAll, expect, it } from "vitest";
import { plainModel, simulateSession } from "~/core/simulate/participant";
import type { StudyDocument } from "~/core/design/document";
import { newSecret } from "~/server/chance";
import { startServer, type Running } from "~/tests/support/server";
import { databaseOf, freshFolder, freshStore, released } from "~/tests/support/store";
import { plainStudy } from "~/tests/support/studies";

/** A study of two groups that can be gone on with at another computer. */
function study(): StudyDocument {
  const document = plainStudy();
  document.groups.push({ id: "late", name: "Late" });
  document.settings.participation.elsewhere = true;
  return document;
}

const folder = freshFolder();
let servers: Running[] = [];
let token = "";
beforeAll(async () => {
  const { store, link } = await released(study(), folder);
  token = link.token;
  await store.close();
  const database = await databaseOf(folder);
  servers = await Promise.all([0, 1].map(() => startServer({ folder, database })));
});
afterAll(async () => {
  for (const server of servers) await server.stop("SIGKILL");
});

type Begun = {
  participant: number;
  group: string;
  orders: Record<string, number>;
  seed: string;
  goOn: string | null;
};
const begin = async (
  at: number,
  secret: string,
  parameters: Record<string, string> = {},
  goOn?: string,
): Promise<Begun> => {
  const response = await fetch(`${servers[at]?.address}/api/join/${token}`, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ secret, parameters, ...(goOn === undefined ? {} : { goOn }) }),
  });
  return (await response.json()) as Begun;
};
const send = async (at: number, secret: string, records: unknown[]) => {
  const response = await fetch(`${servers[at]?.address}/api/session/records`, {
    method: "POST",
    headers: { "Content-Type": "application/json", Authorization: `Bearer ${secret}` },
    body: JSON.stringify({ records, log: [] }),
  });
  return (await response.json()) as { acknowledged: number; superseded: boolean; keptAside: number[] };
};

it("two servers on one database give out every number once and keep the groups within one", async () => {
  const begun = await Promise.all(Array.from({ length: 120 }, (_, index) => begin(index % 2, newSecret())));
  expect(begun.map(({ participant }) => participant).sort((a, b) => a - b)).toEqual(
    Array.from({ length: 120 }, (_, index) => index + 1),
  );
  expect(begun.filter(({ group }) => group === "late").length).toBe(60);
});

it("a session handed on through one server is known to be so by the other, and records are stored once", async () => {
  const [first, second] = [newSecret(), newSecret()];
  const session = await begin(0, first, { participant: "tern" });
  const { records } = simulateSession(study(), session.participant, session, session.seed, plainModel);
  // Both servers know the session by its first secret before it is handed on.
  await send(0, first, records.slice(0, 1));
  expect(await send(1, first, records.slice(0, 2))).toMatchObject({ acknowledged: 2, superseded: false });
  await begin(0, second, {}, session.goOn ?? "");
  for (const at of [0, 1]) {
    expect(await send(at, first, records.slice(2, 3))).toMatchObject({ acknowledged: 3, superseded: true });
    const left = await fetch(`${servers[at]?.address}/api/session`, { headers: { Authorization: `Bearer ${first}` } });
    expect(left.status).toBe(409);
  }
  const answers = await Promise.all(
    Array.from({ length: 6 }, (_, index) => send(index % 2, second, records.slice(index % 3))),
  );
  expect(answers.map(({ acknowledged }) => acknowledged)).toEqual(Array(6).fill(records.length));
  expect(answers.flatMap(({ keptAside }) => keptAside)).toEqual([]);
  const store = await freshStore(folder);
  const kept = await store.db.selectFrom("record").select("number").where("kind", "=", "end").execute();
  expect(kept).toEqual([{ number: records.length }]);
});
