import { access, readFile, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { allocate } from "../core/allocate/allocate";
import { cellKey } from "../core/allocate/scheme";
import { newStudy } from "../core/design/new-study";
import type { Role } from "../core/rights/rights";
import { setShare } from "../server/sharing";
import type { StudyDocument } from "../core/design/document";
import { streamFor } from "../core/random/stream";
import {
  simulateSession,
  type AnswerModel,
  type PlaceGiver,
  type SimulatedSession,
} from "../core/simulate/participant";
import { outline } from "../core/compile/compile";
import { openingOf } from "../core/order/opening";
import type { Display } from "../core/records/log";
import { createAccount, hasAccounts } from "../server/accounts";
import { newId, newSecret, secretHash } from "../server/chance";
import type { Store } from "../server/database/open";
import { enrol } from "../server/lab-computers";
import { freezeRelease } from "../server/releases";
import { studyFrom } from "../core/design/starters/starter";
import { threshold } from "../core/design/starters/threshold";
import { ferries } from "./ferries";
import { importStudy } from "../server/study-file";
import { addStudy, type Study } from "../server/studies";
import { setWave, wavesOf } from "../server/waves";

/** The effect the demo data hold: neighbours walking the other way cost time and accuracy. */
export const demoModel: AnswerModel = {
  mu: 365,
  sigma: 40,
  tau: 75,
  personSd: 38,
  errors: 0.025,
  lapses: 0.006,
  lateScenes: 0.0006,
  effects: [
    { column: "neighbours", level: "against", addMs: 58, addErrors: 0.05, sdMs: 22 },
    { column: "neighbours", level: "none", addMs: 12, addErrors: 0, sdMs: 10 },
  ],
};
const demoSeed = "shore";
/** Sessions to add to a study: so many that finish, and some that are broken off. */
type Sample = {
  finished: number;
  brokenOff: readonly { participant: number; after: number }[];
  model: AnswerModel;
};
const wadersDemo = {
  file: "waders.lapwing.zip",
  code: "amber-quay",
  link: "demo-waders",
  target: 40,
  sample: {
    finished: 24,
    brokenOff: [
      { participant: 9, after: 31 },
      { participant: 16, after: 7 },
      { participant: 22, after: 60 },
    ],
    model: demoModel,
  } satisfies Sample,
};
const option = (name: string, ...numbers: number[]) => numbers.map((number) => ({ option: `${name}-${number}` }));
const sure = (...marks: number[]) => marks.flatMap((mark) => [mark, mark + 3, mark + 7]);
/** Of twenty people one declines; one of fifteen is too young. */
const recipeAnswers: Record<string, readonly unknown[]> = {
  take_part: option("take-part", ...Array.from({ length: 19 }, () => 1), 2),
  age: [16, 19, 20, 21, 22, 22, 23, 25, 28, 31, 36, 42, 47, 55, 63],
  gender: option("gender", 1, 1, 2, 2).concat([{ option: "gender-1" }]),
  learned: [
    { options: ["learned-0"] },
    { options: ["learned-0", "learned-3"] },
    { options: ["learned-1", "learned-2"] },
    { options: ["learned-0", "other"], other: "from my neighbour" },
  ],
  sure_before: sure(22, 35, 48, 61),
  sure_after: sure(38, 47, 59, 70, 78),
  attentive: [{ point: 2 }, { point: 2 }, { point: 2 }, { point: 2 }, { point: 2 }, { point: 4 }],
  use_data: option("use-data", 1, 1, 1, 1, 1, 1, 1, 2),
};
/** What is read with pictures is remembered best, and all at once least. */
const recipesDemo = {
  file: "recipes.lapwing.zip",
  code: "copper-ladle",
  link: "demo-recipes",
  target: 60,
  sample: {
    finished: 36,
    brokenOff: [],
    model: {
      ...demoModel,
      forms: {
        skips: 0.02,
        knows: { Together: 0.55, "Step by step": 0.64, "With pictures": 0.76, "": 0.6 },
        from: recipeAnswers,
      },
    },
  } satisfies Sample,
};

/** One of the demo's computers is busy with something else meanwhile. */
const busy = { participant: 7, lateScenes: 0.035 };
/** Displays as laboratories have them: most at 60 Hz, in windows of a few sizes. */
const displayOf = (participant: number): Display => ({
  refreshMs: 16.667,
  refreshSd: participant === busy.participant ? 0.9 : 0.04,
  width: participant % 3 === 0 ? 1920 : 1536,
  height: participant % 3 === 0 ? 969 : 750,
  pixelRatio: participant % 3 === 0 ? 1 : 1.25,
  isolated: true,
  soundLatencyMs: null,
});

const markOf = (folder: string) => join(folder, "THIS-IS-A-DEMO.txt");

/** Why the demo data may not go into a folder: it holds real work. Otherwise the folder is marked as a demo's; null then. */
export async function demoRefused({ db }: Store, folder: string): Promise<string | null> {
  const real = await db.selectFrom("account").select("id").where("is_demo", "=", 0).executeTakeFirst();
  const isMarked = await access(markOf(folder)).then(
    () => true,
    () => false,
  );
  if (real && !isMarked)
    return `The data folder ${folder} holds real accounts, and the demo lets anyone look around. Choose another folder with LAPWING_DATA, or start it with npm start.`;
  await writeFile(
    markOf(folder),
    "The data in this folder are Lapwing's demo data. Whoever reaches the demo can change them.\n",
  );
  return null;
}

/** Fills an empty database with the demo account, the demo study and its sample data; leaves any other as it is. */
export async function addDemo(store: Store, folder: string): Promise<void> {
  if (await hasAccounts(store)) return;
  const made = await createAccount(store, "demo@lapwing.example", "demo researcher", newSecret(), { isDemo: true });
  if (!made.ok) return;
  const owner = made.account.id;
  const by = made.account.name;
  // Nobody signs in to these: they show how a study is shared.
  for (const { email, name } of mates) await createAccount(store, email, name, newSecret(), { isDemo: true });
  for (const { code, document } of drafts()) await addStudy(store, owner, document, code);
  await collected(store, await addStudy(store, owner, lights(), lightsDemo.code), lightsDemo);
  // The one that is shown first comes last.
  for (const demo of [recipesDemo, wadersDemo]) {
    const bytes = new Uint8Array(await readFile(join(folder, demo.file)));
    const imported = await importStudy(store, owner, bytes, demo.code);
    if (!imported.ok) throw new Error(imported.mistakes.join("\n"));
    await collected(store, imported.study, demo);
    if (demo !== wadersDemo) continue;
    for (const { email, roles } of mates) await setShare(store, imported.study, { email }, roles, by);
    // Nobody knows its key: it shows how a laboratory's computer is listed.
    await enrol(store, [imported.study], { name: "Laboratory 2", key: newSecret(), account: owner, by });
  }
}

/** Who works on the demo study beside the demo researcher. */
const mates: { email: string; name: string; roles: Role[] }[] = [
  { email: "ada@lapwing.example", name: "Ada Lindqvist", roles: ["assistant"] },
  { email: "jonas@lapwing.example", name: "Jonas Pell", roles: ["designer", "analyst"] },
];

/** Releases a study and adds its sample sessions. */
async function collected(
  store: Store,
  study: Study,
  { link, target, sample }: { link: string; target: number; sample: Sample },
): Promise<void> {
  const frozen = await freezeRelease(store, study, "First release.", { token: link });
  if (!frozen.ok) throw new Error(frozen.findings.map(({ where, message }) => `${where}: ${message}`).join("\n"));
  const [wave] = await wavesOf(store.db, study.id);
  if (!wave) throw new Error("A release comes with its first wave.");
  await setWave(store, study.id, wave.id, { plan: { ...wave.plan, target } });
  await addSampleSessions(store, study, { releaseId: frozen.release.id, waveId: wave.id, link }, sample);
}

/** How faint a light may be, by a staircase. */
function lights(): StudyDocument {
  let count = 0;
  return studyFrom(threshold, (prefix) => `${prefix}-${++count}`, "Harbour lights after dark", "91C0");
}
const lightsDemo = {
  code: "brass-tide",
  link: "demo-lights",
  target: 20,
  sample: { finished: 12, brokenOff: [], model: demoModel } satisfies Sample,
};

/** What sample sessions began by. */
type Beginning = { releaseId: string; waveId: string; link: string };

/** Sessions played by simulated participants over the last twelve days. */
async function addSampleSessions(
  store: Store,
  study: Study,
  by: Beginning,
  { finished, brokenOff, model: usual }: Sample,
): Promise<void> {
  const { document } = study;
  const total = finished + brokenOff.length;
  const chance = streamFor(demoSeed, "days");
  const today = Math.floor(Date.now() / 86_400_000) * 86_400_000;
  const starts = Array.from(
    { length: total },
    () => today - (1 + chance.whole(0, 11)) * 86_400_000 + chance.whole(8 * 3600, 17 * 3600) * 1000,
  ).sort((a, b) => a - b);
  const counts = new Map<string, number>();
  let participant = 0;
  const givePlace: PlaceGiver = () => {
    participant++;
    return { participant, ...allocate(document, { participant, stratum: "", counts }) };
  };
  for (let entered = 1; entered <= total; entered++) {
    const stopAfter = brokenOff.find((each) => each.participant === entered)?.after;
    const model = entered === busy.participant ? { ...usual, lateScenes: busy.lateScenes } : usual;
    const session = simulateSession(document, entered, givePlace, document.settings.seed, model, stopAfter);
    const isTaken = !session.records.some((record) => record.kind === "end" && record.ended);
    const key = cellKey(session.assignment);
    if (session.finished && isTaken) counts.set(key, (counts.get(key) ?? 0) + 1);
    await keepSession(store, study, by, session, entered, starts[entered - 1] ?? today);
  }
}

async function keepSession(
  { db }: Store,
  study: Study,
  { releaseId, waveId, link }: Beginning,
  session: SimulatedSession,
  entered: number,
  start: number,
): Promise<void> {
  const id = newId("s");
  const iso = (ms: number) => new Date(start + ms).toISOString();
  const ends = session.records.map((record) =>
    "scenes" in record ? (record.scenes.at(-1)?.end ?? 0) : "done" in record ? record.done : record.at,
  );
  const last = session.records.flatMap((record) => (record.kind === "end" ? [] : [record.part])).at(-1) ?? null;
  const end = session.records.find((record) => record.kind === "end");
  const isDeclined = end?.ended?.as === "declined";
  const { group, orders } = session.assignment;
  const { trialCount } = outline(study.document, { participant: session.participant, group, orders, sitting: 1 });
  await db.transaction().execute(async (trx) => {
    await trx
      .insertInto("session")
      .values({
        id,
        study_id: study.id,
        release_id: releaseId,
        wave_id: waveId,
        link_token: link,
        token_hash: secretHash(newSecret()),
        participant: session.participant,
        entered: openingOf(study.document).length > 0 ? entered : 0,
        group_id: group,
        orders: JSON.stringify(orders),
        pilot: 0,
        state: !session.finished ? "active" : end?.withdrawn ? "withdrawn" : (end?.ended?.as ?? "finished"),
        records: session.records.length,
        trials: session.records.filter(({ kind }) => kind === "trial").length,
        trials_planned: trialCount,
        part: last,
        started_at: iso(0),
        seen_at: iso(ends.at(-1) ?? 0),
        finished_at: session.finished ? iso(ends.at(-1) ?? 0) : null,
        browser: "simulated participant",
        display: JSON.stringify(displayOf(entered)),
        removed_at: isDeclined ? iso(ends.at(-1) ?? 0) : null,
      })
      .execute();
    if (!isDeclined)
      await trx
        .insertInto("session_codes")
        .values({
          session_id: id,
          study_id: study.id,
          participant_code: null,
          completion_code: `DEMO-${String(entered).padStart(4, "0")}`,
          go_on_code: null,
          came_with: null,
        })
        .execute();
    // Of who declines nothing is kept.
    const kept = isDeclined ? [] : session.records;
    for (let from = 0; from < kept.length; from += 50)
      await trx
        .insertInto("record")
        .values(
          kept.slice(from, from + 50).map((record, index) => ({
            session_id: id,
            number: record.number,
            kind: record.kind,
            body: JSON.stringify(record),
            received_at: iso(ends[from + index] ?? 0),
          })),
        )
        .execute();
  });
}

/** Studies still being drafted, so that the index is not a single line. */
function drafts(): { code: string; document: StudyDocument }[] {
  let count = 0;
  const id = (prefix: string) => `${prefix}-${++count}`;
  const tides = newStudy(id, "Reading tide tables against the clock", "07BD");
  return [
    { code: "grey-ferry", document: ferries() },
    { code: "salt-ledger", document: withWords(tides, ["high", "low"]) },
  ];
}

function withWords(document: StudyDocument, words: [string, string]): StudyDocument {
  for (const part of Object.values(document.parts)) {
    const first = part.kind === "block" ? part.table.columns[0]?.id : undefined;
    if (part.kind === "block" && first)
      part.table.rows.forEach((row, index) => (row.cells[first] = words[index] ?? ""));
  }
  return document;
}
