import { execFile, execFileSync } from "node:child_process";
import { statSync } from "node:fs";
import { join } from "node:path";
import { promisify } from "node:util";
import { expect, it } from "vitest";
import { fourHead, fourOf, machineFacts, tableOf, watchSteal } from "../load/machine";
import { memoryOf, participantsMeanwhile } from "../load/steady";
import { serverWithSessions } from "../support/many-sessions";

/**
 * A million trials of the demo study: how long the rows take to make, a summary, a page of records that is filtered and sorted,
 * and the export, while participants take part.
 */
const sessions = Number(process.env.LAPWING_SESSIONS ?? 10_870);
const runs = Number(process.env.LAPWING_RUNS ?? 7);

const questions = [
  ["summary by one column", "results.data?by=neighbours&and="],
  ["summary by two columns", "results.data?by=neighbours&and=direction"],
  ["summary by part and group", "results.data?by=part&and=group"],
  ["records, first page", "results.data?tab=records"],
  [
    "records, filtered and sorted",
    "results.data?tab=records&where=is_right~is~yes&where=rt_ms~at-least~300&sort=-rt_ms",
  ],
  ["records, sorted by words, page 500", "results.data?tab=records&sort=answer&page=500"],
  ["records, searched in all columns", "results.data?tab=records&find=against"],
  ["events, filtered and sorted", "results.data?tab=records&rows=events&where=event~is~scene&sort=-at_ms"],
] as const;

it("a million trials", async () => {
  const { server, code, cookie, rows, link } = await serverWithSessions(sessions, sessions, 200);
  const steal = watchSteal();
  const began = performance.now();
  console.log(
    execFileSync("node", ["build/node/cli.js", "rebuild", code], {
      encoding: "utf8",
      env: { ...process.env, LAPWING_DATA: server.folder },
    }),
  );
  const made = (performance.now() - began) / 1000;
  const size = (name: string) => `${Math.round(statSync(join(server.folder, name)).size / 2 ** 20)} MiB`;
  const endMeanwhile = participantsMeanwhile({ address: server.address, link });
  const memory: number[] = [];
  const watching = setInterval(() => memory.push(memoryOf(server.process.pid)), 200);
  // In a process of its own, so that what participants wait for here is the server alone.
  const get = async (path: string) => {
    const { stdout } = await promisify(execFile)("curl", [
      ...["-s", "-o", "/dev/null", "-w", "%{http_code} %{time_total} %{size_download}", "-H", `Cookie: ${cookie}`],
      `${server.address}/studies/${code}/${path}`,
    ]);
    const [status, seconds, bytes] = stdout.split(" ").map(Number);
    expect(status).toBe(200);
    return { ms: (seconds ?? NaN) * 1000, bytes: bytes ?? 0 };
  };
  const lines: (string | number)[][] = [["ms", "count", ...fourHead]];
  for (const [name, path] of questions) {
    const times: number[] = [];
    for (let run = 0; run < runs; run++) times.push((await get(path)).ms);
    lines.push([name, runs, ...fourOf(times, 0)]);
  }
  const speeds: number[] = [];
  let bytes = 0;
  for (let run = 0; run < 3; run++) {
    const file = await get("trials.csv");
    bytes = file.bytes;
    speeds.push((rows / file.ms) * 1000);
  }
  clearInterval(watching);
  const acknowledged = await endMeanwhile();
  console.log(
    [
      `${machineFacts()}; ${steal()}`,
      `${rows.toLocaleString("en")} trials of ${sessions.toLocaleString("en")} sessions; rows of all tables made in ${made.toFixed(0)} s (${Math.round(rows / made).toLocaleString("en")} trials/s); database ${size("lapwing.db")}, tidy ${size("tidy.db")}`,
      tableOf([
        ...lines,
        ["acknowledged meanwhile", acknowledged.length, ...fourOf(acknowledged)],
        ["server's memory, MiB", memory.length, ...fourOf(memory, 0)],
      ]),
      `trials.csv, ${Math.round(bytes / 2 ** 20)} MiB: ${speeds.map((speed) => Math.round(speed).toLocaleString("en")).join(", ")} rows/s`,
    ].join("\n"),
  );
  await server.stop();
});
