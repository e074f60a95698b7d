import { execFileSync } from "node:child_process";
import { randomBytes } from "node:crypto";
import { chmodSync, existsSync, mkdtempSync, readdirSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import pg from "pg";
import { openStore } from "~/server/database/open";

/** The environment variable with the address of the server the tests run on. */
export const postgresAddress = "LAPWING_TEST_POSTGRES";

/** Where Debian puts PostgreSQL's programs, the newest version first. */
function programs(): string {
  const versions = "/usr/lib/postgresql";
  const [newest] = existsSync(versions) ? readdirSync(versions).sort((a, b) => Number(b) - Number(a)) : [];
  if (!newest) throw new Error("PostgreSQL is not installed: install Debian's package postgresql as root.");
  return join(versions, newest, "bin");
}

/** Runs one of PostgreSQL's programs; it refuses to be run by root, so root runs it as the user the package made. */
function run(program: string, ...given: string[]): void {
  const command = [join(programs(), program), ...given];
  const isRoot = process.getuid?.() === 0;
  const [first = "", ...rest] = isRoot ? ["runuser", "-u", "postgres", "--", ...command] : command;
  execFileSync(first, rest, { cwd: "/", stdio: ["ignore", "ignore", "inherit"] });
}

/** Starts a PostgreSQL server of the tests' own, reached by a socket in its folder only, and stops it in the end. */
export default async function setup(): Promise<() => void> {
  const folder = mkdtempSync(join(tmpdir(), "lapwing-postgres-"));
  if (process.getuid?.() === 0) execFileSync("chown", ["postgres", folder]);
  else chmodSync(folder, 0o700);
  const data = join(folder, "data");
  run("initdb", "-D", data, "-U", "lapwing", "-E", "UTF8", "--locale=C", "--no-sync");
  const settings = `-c listen_addresses='' -c unix_socket_directories='${folder}' -c fsync=off -c max_connections=300`;
  run("pg_ctl", "-D", data, "-w", "-l", join(folder, "log"), "-o", settings, "start");
  process.env[postgresAddress] = `postgres://lapwing@localhost/postgres?host=${folder}`;
  await makeTemplate();
  return () => {
    run("pg_ctl", "-D", data, "-m", "immediate", "stop");
    rmSync(folder, { recursive: true, force: true });
  };
}

const template = "lapwing_template";
const addressOf = (name: string) => (process.env[postgresAddress] ?? "").replace("/postgres?", `/${name}?`);

async function asked(statement: string): Promise<void> {
  const client = new pg.Client({ connectionString: addressOf("postgres") });
  await client.connect();
  await client.query(statement);
  await client.end();
}

/** A database with all tables and nothing in them, of which the others are copies. */
async function makeTemplate(): Promise<void> {
  await asked(`create database ${template}`);
  const folder = mkdtempSync(join(tmpdir(), "lapwing-template-"));
  const opened = await openStore(folder, addressOf(template));
  if (!opened.ok) throw new Error(opened.reason);
  await opened.store.close();
  rmSync(folder, { recursive: true, force: true });
}

/** The address of a database of its own on the tests' server. */
export async function freshDatabase(): Promise<string> {
  const name = `test_${randomBytes(8).toString("hex")}`;
  await asked(`create database ${name} template ${template}`);
  return addressOf(name);
}
