import { mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { dirname, resolve } from "node:path";
import { parseArgs } from "node:util";
import { TooLarge } from "../core/allocate/bounds";
import { bridgePort } from "../core/bridge/messages";
import { hasErrors, preflight } from "../core/check/preflight";
import { outline } from "../core/compile/compile";
import { balanceOf } from "../core/balance/balance";
import { csvText } from "../core/export/formats/csv";
import type { ShownTable } from "../core/export/tables/table";
import type { StudyDocument } from "../core/design/document";
import { accountByEmail } from "../server/accounts";
import { takeInSaved } from "../server/records";
import { freezeRelease } from "../server/releases";
import { importStudy } from "../server/study-file";
import { readStudyFile } from "../server/study-file-reading";
import { participantNumbers, Plain, portIn } from "./arguments";
import { changeAccount } from "./account";
import { backupTo, restoreFrom } from "./backup";
import { runAmplifier, runBridge, runTracker } from "./bridge";
import { startPanel } from "./panel";
import { startTryService } from "./try-service";
import { exportData, rebuildRows } from "./export";
import { simulatedSamples, writeGaze } from "./gaze";
import { gazeAreas, gazeEvents } from "./gaze-events";
import { help } from "./help";
import { importData } from "./import-data";
import { studyCalled, withStore } from "./store";
import { balanceInWords, balanceTable } from "./balance";
import { givenPartsTable, givenSequenceTable, partsTable, sequenceTable } from "./sequence";
import { reacts, ruleCountsInWords, simulatedRuleCounts } from "../core/simulate/rule-counts";
import { simulatedTable } from "./simulate";

const options = {
  participants: { type: "string" },
  seed: { type: "string" },
  out: { type: "string" },
  owner: { type: "string" },
  release: { type: "boolean" },
  codes: { type: "boolean" },
  rows: { type: "string" },
  format: { type: "string" },
  recipe: { type: "string" },
  parts: { type: "boolean" },
  json: { type: "boolean" },
  name: { type: "string" },
  port: { type: "string" },
  sitting: { type: "string" },
  layout: { type: "string" },
  whole: { type: "boolean" },
  wave: { type: "string" },
  finished: { type: "boolean" },
  report: { type: "boolean" },
  folder: { type: "string" },
  by: { type: "string" },
  areas: { type: "string" },
  simulate: { type: "boolean" },
  serial: { type: "boolean" },
  silent: { type: "boolean" },
  "bad-eye": { type: "string" },
  "looks-away": { type: "string" },
  help: { type: "boolean", short: "h" },
} as const;
type Values = {
  participants?: string | undefined;
  seed?: string | undefined;
  out?: string | undefined;
  owner?: string | undefined;
  release?: boolean | undefined;
  codes?: boolean | undefined;
  rows?: string | undefined;
  format?: string | undefined;
  recipe?: string | undefined;
  parts?: boolean | undefined;
  json?: boolean | undefined;
  name?: string | undefined;
  port?: string | undefined;
  sitting?: string | undefined;
  layout?: string | undefined;
  whole?: boolean | undefined;
  wave?: string | undefined;
  finished?: boolean | undefined;
  report?: boolean | undefined;
  folder?: string | undefined;
  by?: string | undefined;
  areas?: string | undefined;
  simulate?: boolean | undefined;
  serial?: boolean | undefined;
  silent?: boolean | undefined;
  "bad-eye"?: string | undefined;
  "looks-away"?: string | undefined;
  /** What stands behind the first word of a command. */
  more?: string[];
};

function fileBytes(path: string | undefined): Uint8Array {
  if (!path) throw new Plain("Name a study file, ending in .lapwing.json or .lapwing.zip.");
  try {
    return new Uint8Array(readFileSync(path));
  } catch {
    throw new Plain(`The file ${path} cannot be read.`);
  }
}

function textOf(path: string | undefined): string {
  if (!path) throw new Plain("Name a table of samples, ending in .csv.");
  try {
    return readFileSync(path, "utf8");
  } catch {
    throw new Plain(`The file ${path} cannot be read.`);
  }
}

async function study(path: string | undefined): Promise<StudyDocument> {
  const read = await readStudyFile(fileBytes(path));
  if (!read.ok)
    throw new Plain(
      `${path} is not a study that can be used:\n${read.mistakes.map((mistake) => `  ${mistake}`).join("\n")}`,
    );
  return read.file.document;
}

function put(text: string, out: string | undefined) {
  if (!out) return void process.stdout.write(text);
  try {
    mkdirSync(dirname(resolve(out)), { recursive: true });
    writeFileSync(out, text);
  } catch {
    throw new Plain(`The file ${out} cannot be written.`);
  }
}

function runnable(document: StudyDocument): StudyDocument {
  const errors = preflight(document).filter(({ level }) => level === "error");
  if (errors.length > 0)
    throw new Plain(
      `The study cannot be played yet:\n${errors.map(({ where, message }) => `  ${where}: ${message}`).join("\n")}`,
    );
  return document;
}

/** Participants whose trials can be listed at once. */
function notTooMany(document: StudyDocument, numbers: number[]): number[] {
  const trials = outline(document, {
    participant: 1,
    group: document.groups[0]?.id ?? "",
    orders: {},
    sitting: 1,
  }).trialCount;
  if (numbers.length * trials > mostLines)
    throw new Plain(
      `${numbers.length} participants with ${trials} trials each are more than the ${mostLines.toLocaleString("en")} lines that can be listed at once. Ask for fewer participants.`,
    );
  return numbers;
}
const mostLines = 2_000_000;

const table = ({ header, rows }: ShownTable, asJson = false) =>
  asJson
    ? `${JSON.stringify(
        rows.map((row) => Object.fromEntries(header.map((name, index) => [name, row[index] ?? null]))),
        null,
        1,
      )}\n`
    : csvText([header, ...rows]);

const seeded = (document: StudyDocument, seed: string | undefined): StudyDocument =>
  seed === undefined ? document : { ...document, settings: { ...document.settings, seed } };

const commands: Record<string, (subject: string | undefined, values: Values) => Promise<number> | number> = {
  check: async (file) => {
    const findings = preflight(await study(file));
    for (const { level, where, message } of findings) console.log(`${level}: ${where}: ${message}`);
    const count = (wanted: string) => findings.filter(({ level }) => level === wanted).length;
    console.log(`${count("error")} errors, ${count("warning")} warnings, ${count("note")} notes`);
    return hasErrors(findings) ? 1 : 0;
  },
  sequence: async (file, { participants, seed, parts, json, out, release, sitting }) => {
    if (release) {
      if (participants !== undefined || seed !== undefined || sitting !== undefined)
        throw new Plain(
          "With --release all sessions of the study are printed as they were: leave out --participants, --seed and --sitting.",
        );
      return withStore(async (store) => {
        const found = await studyCalled(store, file);
        put(table(await (parts ? givenPartsTable : givenSequenceTable)(store, found), json), out);
        return 0;
      });
    }
    const document = runnable(seeded(await study(file), seed));
    const numbers = notTooMany(document, participantNumbers(participants ?? "1-24"));
    const which = sittingAsked(document, sitting);
    put(table(parts ? partsTable(document, numbers, which) : sequenceTable(document, numbers, which), json), out);
    return 0;
  },
  balance: async (file, { participants = "1-200", seed, json, out }) => {
    const document = runnable(seeded(await study(file), seed));
    const balance = balanceOf(document, participantNumbers(participants, true));
    put(table(balanceTable(balance), json), out);
    for (const sentence of balanceInWords(balance)) console.error(sentence);
    return 0;
  },
  simulate: async (file, { participants = "24", seed, out }) => {
    const document = runnable(seeded(await study(file), seed));
    const numbers = notTooMany(document, participantNumbers(participants, true));
    put(table(simulatedTable(document, numbers)), out);
    if (reacts(document))
      for (const sentence of ruleCountsInWords(simulatedRuleCounts(document, numbers))) console.error(sentence);
    return 0;
  },
  import: (file, { owner, release, ...moved }) => {
    if (file?.endsWith(".lapwing-data.zip")) return importData(file, { owner, ...moved });
    const bytes = fileBytes(file);
    if (!owner) throw new Plain("Say whose study it will be, with --owner EMAIL.");
    return withStore(async (store) => {
      const account = await accountByEmail(store, owner);
      if (!account) throw new Plain(`There is no account ${owner}. Create it on the sign-in page first.`);
      const imported = await importStudy(store, account.id, bytes);
      if (!imported.ok)
        throw new Plain(
          `${file} cannot be imported:\n${imported.mistakes.map((mistake) => `  ${mistake}`).join("\n")}`,
        );
      console.log(imported.study.code);
      if (!release) return 0;
      const frozen = await freezeRelease(store, imported.study, "Imported and released.");
      if (!frozen.ok)
        throw new Plain(
          `The study is imported but cannot be released yet:\n${frozen.findings.map(({ where, message }) => `  ${where}: ${message}`).join("\n")}`,
        );
      console.log(`http://localhost:${process.env.PORT ?? 4173}/join/${frozen.link?.token}`);
      return 0;
    });
  },
  rebuild: (code) => rebuildRows(code),
  "take-in": (file) => {
    const saved = (() => {
      try {
        return JSON.parse(Buffer.from(fileBytes(file)).toString("utf8")) as unknown;
      } catch (error) {
        if (error instanceof Plain) throw error;
        throw new Plain(`${file} is no file of answers: choose one that ends in .lapwing-answers.json.`);
      }
    })();
    return withStore(async (store) => {
      const taken = await takeInSaved(store, saved);
      if (!taken.ok) throw new Plain(taken.reason);
      console.log(
        `Stored up to record ${taken.acknowledged}${taken.finished ? "; the session is finished" : ""}.` +
          (taken.keptAside.length > 0 ? ` Kept aside, since others are there: ${taken.keptAside.join(", ")}.` : "") +
          (taken.unplanned.length > 0
            ? ` Kept aside, since they cannot follow in this session: ${taken.unplanned.join(", ")}.`
            : ""),
      );
      return 0;
    });
  },
  account: (what, { more = [], name }) => changeAccount(what, more[0], name, withStore),
  backup: (file) => backupTo(file),
  restore: (file) => restoreFrom(file),
  "try-service": (_, { port = "8077" }) => untilStopped(port, (number) => startTryService(number, console.log)),
  panel: (link, { port = "8078", name = "A study" }) => {
    if (link !== undefined && !/^https?:\/\//.test(link)) throw new Plain("The link begins with http:// or https://.");
    return untilStopped(port, (number) => startPanel(number, link === undefined ? null : { name, link }));
  },
  bridge: (_, { port = String(bridgePort), folder }) => runBridge(portIn(port), folder),
  amplifier: (_, { port = "7712", serial = false, silent = false }) =>
    runAmplifier(serial ? null : portIn(port), silent),
  tracker: (_, { port = "7713", seed, "bad-eye": eye, "looks-away": away = "0" }) => {
    if (eye !== undefined && eye !== "left" && eye !== "right") throw new Plain("--bad-eye is left or right.");
    if (!/^\d{1,4}$/.test(away)) throw new Plain("--looks-away is the number of a point, 1 or more.");
    return runTracker(portIn(port), {
      ...(seed === undefined ? {} : { seed }),
      ...{ badEye: eye ?? null, looksAwayAt: Number(away) },
    });
  },
  gaze: (file, { by, areas, simulate = false, seed = "viewer", out }) => {
    if (simulate) {
      put(table(simulatedSamples(seed)), out);
      return 0;
    }
    // A study by its code, and not a table.
    if (file !== undefined && /^[a-z]+-[a-z0-9-]+$/.test(file)) return writeGaze(file, out);
    const events = areas === undefined ? gazeEvents(textOf(file), by) : gazeAreas(textOf(file), textOf(areas), by);
    put(table(events.table), out);
    for (const sentence of events.words) console.error(sentence);
    return 0;
  },
  export: (code, values) => exportData(code, values),
};

/** The number of a sitting, of those the study has. */
function sittingAsked(document: StudyDocument, said = "1"): number {
  const most = Math.max(1, document.sittings.length);
  const number = Number(said);
  if (Number.isInteger(number) && number >= 1 && number <= most) return number;
  throw new Plain(
    most === 1 ? "This study has one sitting." : `--sitting is “${said}”; this study has sittings 1 to ${most}.`,
  );
}

/** Starts something that answers at a port of this computer, and leaves it running. */
async function untilStopped(port: string, start: (port: number) => Promise<{ address: string }>): Promise<number> {
  const number = portIn(port);
  const { address } = await start(number).catch(() => {
    throw new Plain(`Port ${port} is taken. Choose another with --port.`);
  });
  console.log(`It answers at ${address} until you press Ctrl C.`);
  return new Promise<number>(() => undefined);
}

async function main(): Promise<number> {
  process.umask(0o077);
  let parsed: ReturnType<typeof parseArgs<{ options: typeof options; allowPositionals: true }>>;
  try {
    parsed = parseArgs({ options, allowPositionals: true });
  } catch (error) {
    throw new Plain(
      `${error instanceof Error ? error.message.split(".")[0] : "The options cannot be read"}. See ./lapwing --help.`,
    );
  }
  const { values, positionals } = parsed;
  const [name, subject, ...more] = positionals;
  if (values.help || name === undefined) {
    console.log(help);
    return values.help ? 0 : 1;
  }
  const command = Object.hasOwn(commands, name) ? commands[name] : undefined;
  if (!command) throw new Plain(`There is no command “${name}”. See ./lapwing --help.`);
  return command(subject, { ...values, more });
}

main().then(
  (code) => (process.exitCode = code),
  (error: unknown) => {
    console.error(error instanceof Plain || error instanceof TooLarge ? error.message : error);
    process.exitCode = 1;
  },
);
