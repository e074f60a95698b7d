import { accessSync } from "node:fs";
import { join, resolve } from "node:path";
import { fileURLToPath, pathToFileURL } from "node:url";
import type { ServerBuild } from "react-router";
import { addDemo } from "../demo/add-demo";
import { openStore } from "../server/database/open";
import { application } from "../server/http/application";
import { mostBytesAnywhere, patienceMs } from "../server/http/bounds";
import { ExportDesk } from "../server/export/desk";
import { judgeInThread } from "../server/judging/desk";
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
const folder = resolve(process.env.LAPWING_DATA ?? "lapwing-data");
const buildFolder = resolve(process.env.LAPWING_BUILD ?? "build");
const version = process.env.LAPWING_VERSION ?? "0.1.0";

const address = process.env.LAPWING_DATABASE || undefined;
const opened = await openStore(folder, address);
if (!opened.ok) stop(opened.reason);
const { store } = opened;
if (process.argv.includes("--demo")) await addDemo(store, join(process.cwd(), "demo"));

const serverFile = join(buildFolder, "server", "index.js");
try {
  accessSync(serverFile);
} catch {
  stop(`There is no build in ${buildFolder}. Run ./demo.sh, or npm run build.`);
}
const build = (await import(pathToFileURL(serverFile).href)) as ServerBuild;
const scriptOf = (name: string) => fileURLToPath(new URL(`${name}.js`, import.meta.url));
const results = new ResultsDesk(scriptOf("results-worker"), { folder, address });
const judging = judgeInThread(scriptOf("judging-worker"), { folder, address });
store.judge = judging.judge;
const exports = new ExportDesk(scriptOf("export-worker"), { folder, address });
const shop = workshopInThreads(scriptOf("workshop-worker"), folder);
store.workshop = shop.workshop;
const server = application({ store, results, exports, version, buildFolder, build }).listen(port);
// Slow senders are cut: the headers of a request come within 15 s, a body within its own time (`bounded`).
server.headersTimeout = 15_000;
server.requestTimeout = patienceMs(mostBytesAnywhere);
server.on("listening", () => {
  const bound = server.address();
  console.log(`ready at http://localhost:${typeof bound === "object" && bound ? bound.port : port}`);
});
server.on("error", (error: NodeJS.ErrnoException) => {
  if (error.code === "EADDRINUSE")
    stop(`Port ${port} is taken. Choose another, for example PORT=${port + 1} ./demo.sh.`);
  if (error.code === "EACCES")
    stop(`Port ${port} may not be used by this account. Choose one above 1023, for example PORT=4173 ./demo.sh.`);
  throw error;
});

let stopping = false;
const close = () => {
  if (stopping) return;
  stopping = true;
  server.close(
    () =>
      void Promise.all([store.close(), results.close(), judging.close(), exports.close(), shop.close()]).then(() =>
        process.exit(0),
      ),
  );
  server.closeIdleConnections();
  setTimeout(() => server.closeAllConnections(), 2000).unref();
};
process.on("SIGINT", close);
process.on("SIGTERM", close);
