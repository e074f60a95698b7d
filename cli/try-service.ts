import { createServer, type IncomingMessage } from "node:http";
import { listening, type Listening } from "./listening";

/** What a service was told, and how it is asked to answer. */
type Told = Record<string, unknown>;
export type TryService = Listening & { told: Told[] };

const longest = 100_000;

/**
 * A small service to try a study with and for tests: it answers with the `sum` of the numbers it is told, their `count`, and the
 * texts in one as `said`. Its address can ask for more: `?wait=500` answers after so many ms, `?status=500` with that status.
 */
export async function startTryService(
  port: number,
  tell: (line: string) => void = () => undefined,
): Promise<TryService> {
  const told: Told[] = [];
  const server = createServer((request, response) => {
    const query = new URL(request.url ?? "/", "http://localhost").searchParams;
    // A page of any origin may ask it: it keeps nothing.
    response.setHeader("Access-Control-Allow-Origin", "*");
    response.setHeader("Access-Control-Allow-Headers", "Content-Type");
    response.setHeader("Access-Control-Allow-Private-Network", "true");
    if (request.method === "OPTIONS") return void response.writeHead(204).end();
    bodyOf(request)
      .then((body) => {
        const values = valuesIn(body);
        told.push(values);
        tell(`told ${JSON.stringify(values)}`);
        const answer = () =>
          response
            .writeHead(Number(query.get("status") ?? 200), { "Content-Type": "application/json" })
            .end(JSON.stringify(answerTo(values)));
        setTimeout(answer, Math.min(60_000, Number(query.get("wait") ?? 0)));
      })
      .catch(() => response.writeHead(400).end());
  });
  return { told, ...(await listening(server, port)) };
}

async function bodyOf(request: IncomingMessage): Promise<string> {
  let text = "";
  for await (const piece of request) {
    text += String(piece);
    if (text.length > longest) throw new Error("too long");
  }
  return text;
}

function valuesIn(body: string): Told {
  const value: unknown = JSON.parse(body);
  return typeof value === "object" && value !== null && !Array.isArray(value) ? (value as Told) : {};
}

function answerTo(values: Told) {
  const all = Object.values(values);
  const numbers = all.filter((each): each is number => typeof each === "number");
  return {
    sum: numbers.reduce((sum, each) => sum + each, 0),
    count: numbers.length,
    said: all.filter((each) => typeof each === "string").join(" "),
  };
}
