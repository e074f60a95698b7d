import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { strFromU8, strToU8, unzipSync, zipSync } from "fflate";
import Papa from "papaparse";
import type { Browser, Page } from "playwright-core";
import { type Participation, newParticipation } from "~/core/design/participation";
import { parseStudyText } from "~/core/design/parse";
import type { Block } from "~/core/design/block";
import type { StudyDocument } from "~/core/design/document";
import { lookAround, openWindow } from "./browser";
import type { mediaOf } from "./media";
import { scene } from "./participant";
import type { Running } from "./server";

/** The command line, beside a server that runs. */
export const cliOf = ({ folder, port }: Running, ...args: string[]): string =>
  execFileSync("node", ["build/node/cli.js", ...args], {
    encoding: "utf8",
    env: { ...process.env, LAPWING_DATA: folder, PORT: String(port) },
  });

/** A short study of eight trials, changed, imported and released; gives its code and link. */
export function releaseShortStudy(
  server: Running,
  participation: Partial<Participation>,
  change: (document: StudyDocument, block: Block) => void = () => undefined,
): { code: string; link: string } {
  const parsed = parseStudyText(readFileSync("tests/support/eight-trials.lapwing.json", "utf8"));
  if (!parsed.ok) throw new Error(parsed.mistakes.join());
  const { document } = parsed;
  document.settings.participation = { ...newParticipation(), ...participation };
  change(document, document.parts["boats"] as Block);
  return importReleased(server, document);
}

/** A study imported and released; gives its code and link. */
export function importReleased(
  server: Running,
  document: StudyDocument,
  media: readonly ReturnType<typeof mediaOf>[] = [],
  owner = "demo@lapwing.example",
): { code: string; link: string } {
  const whole = { ...document, media: [...document.media, ...media.map(({ file }) => file)] };
  const file = join(
    mkdtempSync(join(tmpdir(), "lapwing-study-")),
    `study.lapwing.${media.length > 0 ? "zip" : "json"}`,
  );
  const contents = media.map(({ file: { sha256 }, buffer }) => [`media/${sha256}`, new Uint8Array(buffer)] as const);
  const text = JSON.stringify(whole);
  writeFileSync(
    file,
    media.length > 0 ? zipSync({ "study.lapwing.json": strToU8(text), ...Object.fromEntries(contents) }) : text,
  );
  const [code = "", link = ""] = cliOf(server, "import", file, "--owner", owner, "--release").trim().split("\n");
  return { code, link };
}

export const press = (page: Page, name: string): Promise<void> =>
  page.getByRole("button", { name, exact: true }).click();

/** Starts the demonstration from its entry page, with the key that it asks for first. */
export async function startWaders(page: Page): Promise<void> {
  await press(page, "Start");
  await page.getByText("Press the space bar").waitFor();
  await page.keyboard.press("Space");
}

/** From the link to the first trial. */
export async function begin(page: Page, link: string): Promise<void> {
  await page.goto(link);
  await press(page, "Start");
  await press(page, "Continue");
}

/** Answers the trials after the one numbered `from`, up to the one numbered `to`. */
export async function answer(page: Page, from: number, to: number): Promise<void> {
  for (let done = from; done < to;) {
    done = await scene(page, "target", done);
    await page.keyboard.press("f");
  }
}

export type Row = Record<string, string>;
/** The exported files of a study, by name. */
export async function exportedFrom(
  server: Running,
  browser: Browser,
  code: string,
  asked = "?codes=yes",
): Promise<Record<string, Row[]>> {
  const { page, context } = await openWindow(browser);
  await lookAround(page, server.address);
  const files = await exportedBy(page, server.address, code, asked);
  await context.close();
  return files;
}

/** The exported files of a study, by name, codes too, for whoever has signed in on a page. */
export async function exportedBy(
  page: Page,
  address: string,
  code: string,
  asked = "?codes=yes",
): Promise<Record<string, Row[]>> {
  const answer = await page.request.get(`${address}/studies/${code}/data${asked}`);
  const files = unzipSync(new Uint8Array(await answer.body()));
  return Object.fromEntries(
    Object.entries(files).map(([name, bytes]) => [
      name,
      name.endsWith(".csv") ? Papa.parse<Row>(strFromU8(bytes).trimEnd(), { header: true }).data : [],
    ]),
  );
}
