import { accessSync } from "node:fs";
import { join, resolve } from "node:path";
import { fileURLToPath, pathToFileURL } from "node:url";
import type { ServerBuild } from "react-router";
import { addDemo, demoRefused } from "../demo/add-demo";
import { openStore } from "../server/database/open";
import { honourTombstones } from "../server/forgetting";
import { removeDaily } from "../server/retention";
import { removeIncoming } from "../server/media/keeper";
import { application } from "../server/http/application";
import { mailerAt } from "../server/mail";
import { providerAt } from "../server/provider";
import { publicAddress } from "../server/http/guard";
import { mostBytesAnywhere, patienceMs } from "../server/http/bounds";
import { ExportDesk } from "../server/export/desk";
import { judgeAlsoInThread } from "../server/judging/desk";
import { MovingDesk } from "../server/moving/desk";
import { ResultsDesk } from "../server/results/desk";
import { workshopInThreads } from "../server/workshop/desk";

/** One plain sentence and the exit code 1: for what the person who starts Lapwing can mend. */
function stop(sentence: string): never {
  console.error(sentence);
  process.exit(1);
}

const port = Number(process.env.PORT ?? 4173);
if (!Number.isInteger(port) || port < 0 || port > 65_535)
  stop(`PORT is “${process.env.PORT}”; it should be a number such as 4173.`);
const isDemo = process.argv.includes("--demo");
// Everything Lapwing writes can be read by this account alone.
process.umask(0o077);
const folder = resolve(process.env.LAPWING_DATA ?? (isDemo ? "lapwing-demo" : "lapwing-data"));
const buildFolder = resolve(process.env.LAPWING_BUILD ?? "build");
const host = process.env.HOST || "127.0.0.1";
const shownAt = process.env.LAPWING_URL ? publicAddress(process.env.LAPWING_URL) : null;
if (process.env.LAPWING_URL && shownAt === null)
  stop(
    `LAPWING_URL is “${process.env.LAPWING_URL}”; it should be the address of the start page, such as https://lapwing.example.org.`,
  );
const mailer = mailerAt(process.env.LAPWING_MAIL, process.env.LAPWING_MAIL_FROM);
if (mailer && "reason" in mailer) stop(mailer.reason);
const provider = providerAt({
  issuer: process.env.LAPWING_OIDC,
  client: process.env.LAPWING_OIDC_CLIENT,
  secret: process.env.LAPWING_OIDC_SECRET,
  name: process.env.LAPWING_OIDC_NAME,
});
if (provider && "reason" in provider) stop(provider.reason);
const version = process.env.LAPWING_VERSION ?? "0.1.0";

const address = process.env.LAPWING_DATABASE || undefined;
const opened = await openStore(folder, address);
if (!opened.ok) stop(opened.reason);
const { store } = opened;
if (isDemo) {
  const refused = await demoRefused(store, folder);
  if (refused !== null) stop(refused);
  await addDemo(store, join(process.cwd(), "demo"));
}
await removeIncoming(folder);
const again = await honourTombstones(store);
if (again > 0) console.log(`Removed again what was removed before a copy of the database was put back: ${again}.`);
const endDaily = removeDaily(store);

const serverFile = join(buildFolder, "server", "index.js");
try {
  accessSync(serverFile);
} catch {
  stop(`There is no build in ${buildFolder}. Run ./demo.sh, or npm run build.`);
}
const build = (await import(pathToFileURL(serverFile).href)) as ServerBuild;
const scriptOf = (name: string) => fileURLToPath(new URL(`${name}.js`, import.meta.url));
const results = new ResultsDesk(scriptOf("results-worker"), { folder, address });
store.ended = (study) => results.gatherSoon(study);
const judging = judgeAlsoInThread(store.judge, scriptOf("judging-worker"), { folder, address });
store.judge = judging.judge;
const exports = new ExportDesk(scriptOf("export-worker"), { folder, address });
const moving = new MovingDesk(scriptOf("moving-worker"), { folder, address });
const workshop = workshopInThreads(scriptOf("workshop-worker"), folder);
store.workshop = workshop.workshop;
const server = application({
  store,
  results,
  exports,
  moving,
  version,
  buildFolder,
  build,
  isDemo,
  publicAddress: shownAt,
  mailer,
  provider,
}).listen(port, host);
// Slow senders are cut: the headers of a request come within 15 s, a body within its own time (`bounded`).
server.headersTimeout = 15_000;
server.requestTimeout = patienceMs(mostBytesAnywhere);
server.on("listening", () => {
  const bound = server.address();
  const here = `http://localhost:${typeof bound === "object" && bound ? bound.port : port}`;
  console.log(`ready at ${shownAt?.origin ?? here}`);
  const isOpen = host !== "127.0.0.1" && host !== "localhost" && host !== "::1";
  if (!isOpen)
    console.log("It can be reached from this computer only; with HOST=0.0.0.0 also from others, or by a proxy on it.");
  else if (isDemo)
    console.log("Warning: others can reach it, and whoever does can look around in the demo data and change them.");
  if (isOpen && shownAt === null)
    console.log("Set LAPWING_URL to the address at which others reach it; without it only numbers are taken as names.");
});
server.on("error", (error: NodeJS.ErrnoException) => {
  if (error.code === "EADDRINUSE")
    stop(`Port ${port} is taken. Choose another, for example PORT=${port + 1} ./demo.sh.`);
  if (error.code === "EADDRNOTAVAIL" || error.code === "ENOTFOUND")
    stop(`HOST is “${host}”; this computer has no such address. Use 127.0.0.1, or 0.0.0.0 for all it has.`);
  if (error.code === "EACCES")
    stop(`Port ${port} may not be used by this account. Choose one above 1023, for example PORT=4173 ./demo.sh.`);
  throw error;
});

let stopping = false;
const close = () => {
  if (stopping) return;
  stopping = true;
  endDaily();
  server.close(
    () =>
      void Promise.all([store, results, judging, exports, moving, workshop].map((each) => each.close())).then(() =>
        process.exit(0),
      ),
  );
  server.closeIdleConnections();
  setTimeout(() => server.closeAllConnections(), 2000).unref();
};
process.on("SIGINT", close);
process.on("SIGTERM", close);
