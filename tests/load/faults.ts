import { rmSync } from "node:fs";
import { join } from "node:path";
import Sqlite from "better-sqlite3";
import type { Browser, BrowserContext, Page } from "playwright-core";
import { newKeys } from "~/core/devices/keys/keys";
import { newTextItem } from "~/core/items/text/text";
import type { Block } from "~/core/design/block";
import type { StudyDocument } from "~/core/design/document";
import type { SessionRecord } from "~/core/records/record";
import { launch } from "~/tests/support/browser";
import { startServer, type Running } from "~/tests/support/server";
import { plainStudy, withBlock } from "~/tests/support/studies";
import { freshFolder, releasedAt } from "./long-study";
import { machineFacts, seededChance, tableOf } from "./machine";

const kinds = ["kill", "cut", "reload", "crash"] as const;
type Fault = (typeof kinds)[number];
export type FaultChoice = Record<Fault, number> & { seed: number; windows: number };
export type FaultOutcome = {
  missing: string[];
  doubled: string[];
  differing: string[];
  unfinished: string[];
  report: string;
};

const sleep = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const trials = 24;

/** Trials of a third of a second, each with a key that may or may not come. */
const quickStudy = (): StudyDocument =>
  withBlock(plainStudy(), (block: Block) => {
    const [first, second] = block.scenes;
    if (!first || !second) throw new Error("no scenes");
    block.table = {
      columns: [],
      rows: Array.from({ length: trials }, (_, row) => ({ id: `row-${row}`, copies: 1, cells: {} })),
    };
    block.scenes = [
      { id: "look", name: "look", lasts: { kind: "ms", ms: 100 }, items: [] },
      {
        id: "target",
        name: "target",
        lasts: { kind: "until-answer", atMostMs: 250 },
        items: [newTextItem((prefix) => `${prefix}-target`, "word", "Now")],
      },
    ];
    block.answers = [
      {
        id: "answer",
        name: "answer",
        opensWith: "target",
        closesWith: "target",
        by: [newKeys(["f"])],
        match: "exact",
        counts: "first",
        onAnswer: "move-on",
        onEarly: "go-on",
      },
    ];
    block.order = { method: "shuffled", passes: 1, limits: [] };
  });

/**
 * Sessions in real browser windows while the server is killed, the network cut, pages loaded anew and tabs crashed, at
 * moments that follow from the seed; windows play one session after the other until all faults have happened. Then the
 * database is looked through: every session whole, every record once, and the one that was sent.
 */
export async function faults(choice: FaultChoice): Promise<FaultOutcome> {
  const facts = machineFacts();
  const chance = seededChance(choice.seed);
  const folder = freshFolder();
  const { token } = await releasedAt(folder, quickStudy(), 2);
  let server: Running = await startServer({ folder });
  const { port } = server;
  const address = `${server.address}/join/${token}`;
  const browser = await launch();
  const happened: Record<Fault, number> = { kill: 0, cut: 0, reload: 0, crash: 0 };
  let sessions = 0;
  /** Every body that was sent under a session's secret and number, as the network saw it. */
  const sent = new Map<string, Map<number, Set<string>>>();
  const plan = kinds
    .flatMap((kind) => Array.from({ length: choice[kind] }, () => kind))
    .map((kind) => ({ kind, order: chance() }))
    .sort((a, b) => a.order - b.order)
    .map(({ kind }) => kind);
  const isDone = () => plan.length === 0;
  /** One kill at a time: the next waits until the server is there again. */
  let restarting = Promise.resolve();
  const kill = () =>
    (restarting = restarting.then(async () => {
      await server.stop("SIGKILL");
      await sleep(100 + 1400 * chance());
      server = await startServer({ folder, port });
    }));

  const listen = (page: Page) =>
    page.on("request", (request) => {
      if (request.method() !== "POST" || !request.url().endsWith("/api/session/records")) return;
      const secret = request.headers()["authorization"] ?? "";
      const { records } = (request.postDataJSON() ?? { records: [] }) as { records: SessionRecord[] };
      const own = sent.get(secret) ?? new Map<number, Set<string>>();
      sent.set(secret, own);
      for (const record of records) {
        const bodies = own.get(record.number) ?? new Set<string>();
        own.set(record.number, bodies.add(JSON.stringify(record)));
      }
    });
  const opened = async (context: BrowserContext): Promise<Page> => {
    const page = await context.newPage();
    listen(page);
    for (;;) {
      try {
        await page.goto(address, { timeout: 5000 });
        return page;
      } catch {
        await sleep(300);
      }
    }
  };
  /** Presses what there is to press, and now and then the key of the trial; true when the session has come to its end. */
  const goOn = (page: Page) =>
    page.evaluate((key) => {
      document.querySelector<HTMLButtonElement>(".over:not([hidden]) button, #page button")?.click();
      if (key) dispatchEvent(new KeyboardEvent("keydown", { key: "f", code: "KeyF", bubbles: true }));
      return document.querySelector(".ending .code") !== null;
    }, chance() < 0.3);
  const play = async (window: Browser): Promise<void> => {
    const context = await window.newContext();
    let page = await opened(context);
    sessions++;
    let next = 300 + 2500 * chance();
    let began = performance.now();
    for (const latest = performance.now() + 240_000; performance.now() < latest;) {
      const isOver = await goOn(page).catch(() => null);
      if (isOver) return context.close();
      if (isOver === null && (page.isClosed() || page.url().startsWith("chrome"))) page = await opened(context);
      if (performance.now() - began > next) {
        const fault = plan.shift();
        if (fault) happened[fault]++;
        if (fault === "kill") void kill();
        if (fault === "cut") {
          await context.setOffline(true);
          // What is played meanwhile goes on by itself.
          for (const until = performance.now() + 300 + 2500 * chance(); performance.now() < until; await sleep(60))
            await goOn(page).catch(() => null);
          await context.setOffline(false);
        }
        if (fault === "reload") {
          await restarting;
          await page.reload({ timeout: 8000 }).catch(() => undefined);
        }
        if (fault === "crash") {
          await page.goto("chrome://crash", { timeout: 3000 }).catch(() => undefined);
          await page.close().catch(() => undefined);
          page = await opened(context);
        }
        next = 300 + 2500 * chance();
        began = performance.now();
      }
      // A page that could not be loaded while the server was away is loaded again, as a person would.
      if (!page.url().startsWith("http")) await page.goto(address, { timeout: 5000 }).catch(() => undefined);
      await sleep(50);
    }
    await context.close();
  };
  const begin = performance.now();
  await Promise.all(
    Array.from({ length: choice.windows }, async () => {
      do await play(browser);
      while (!isDone());
    }),
  );
  await restarting;
  await browser.close();
  await server.stop("SIGKILL");
  const found = lookThrough(folder, sent);
  rmSync(folder, { recursive: true, force: true });
  return {
    ...found,
    report: [
      `faults, seed ${choice.seed}: ${facts}`,
      tableOf([
        ["", ...kinds, "sessions", "records", "missing", "doubled", "differing", "unfinished"],
        [
          `in ${Math.round((performance.now() - begin) / 1000)} s`,
          ...kinds.map((kind) => happened[kind]),
          sessions,
          found.records,
          found.missing.length,
          found.doubled.length,
          found.differing.length,
          found.unfinished.length,
        ],
      ]),
    ].join("\n"),
  };
}

type Stored = { id: string; token_hash: string; state: string; refused: number };

function lookThrough(
  folder: string,
  sent: Map<string, Map<number, Set<string>>>,
): Omit<FaultOutcome, "report"> & { records: number } {
  const db = new Sqlite(join(folder, "lapwing.db"), { readonly: true });
  const sessions = db
    .prepare(
      "select id, token_hash, state, (select count(*) from refused_record where session_id = session.id) as refused from session",
    )
    .all() as Stored[];
  const [missing, doubled, differing, unfinished]: string[][] = [[], [], [], []] as never;
  let records = 0;
  const bodies = new Map<string, Set<string>>();
  for (const own of sent.values())
    for (const [number, each] of own)
      for (const body of each) bodies.set(body, (bodies.get(body) ?? new Set()).add(String(number)));
  for (const { id, state, refused } of sessions) {
    const rows = db.prepare("select number, kind, body from record where session_id = ? order by number").all(id) as {
      number: number;
      kind: string;
      body: string;
    }[];
    records += rows.length;
    rows.forEach(({ number }, index) => {
      if (number !== index + 1) missing?.push(`${id}: record ${index + 1}`);
    });
    const played = rows
      .filter(({ kind }) => kind === "trial")
      .map(({ body }) => (JSON.parse(body) as { trial: number }).trial);
    if (new Set(played).size !== played.length) doubled?.push(`${id}: ${played.join(" ")}`);
    if (played.length !== trials) missing?.push(`${id}: ${played.length} of ${trials} trials`);
    if (state !== "finished") unfinished?.push(id);
    if (refused > 0) differing?.push(`${id}: ${refused} kept aside`);
    for (const { body, number } of rows)
      if (!bodies.has(body)) differing?.push(`${id}: record ${number} is not one that was sent`);
  }
  db.close();
  for (const [, own] of sent)
    for (const [number, each] of own)
      if (each.size > 1) differing?.push(`record ${number} was sent in ${each.size} forms`);
  return {
    missing: missing ?? [],
    doubled: doubled ?? [],
    differing: differing ?? [],
    unfinished: unfinished ?? [],
    records,
  };
}
