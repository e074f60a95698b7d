import { readFileSync } from "node:fs";
import { plainModel, simulateSession } from "~/core/simulate/participant";
import type { SessionData } from "~/core/run/session-data";
import { newSecret } from "~/server/chance";

/**
 * Some participants who take part by a link all the while, each a record every so many ms. Gives at the end how long each
 * acknowledgement took, in ms.
 */
export function participantsMeanwhile(
  { address, link }: { address: string; link: string },
  count = 8,
  everyMs = 150,
): () => Promise<number[]> {
  const acknowledged: number[] = [];
  let isOver = false;
  const post = async (path: string, secret: string | null, body: unknown) => {
    const answer = await fetch(`${address}${path}`, {
      method: "POST",
      headers: {
        "content-type": "application/json",
        origin: address,
        ...(secret === null ? {} : { Authorization: `Bearer ${secret}` }),
      },
      body: JSON.stringify(body),
    });
    const said = (await answer.json()) as SessionData;
    if (!answer.ok) throw new Error(`${path}: ${JSON.stringify(said)}`);
    return said;
  };
  const takePart = async () => {
    const secret = newSecret();
    const session = await post(`/api/join/${link}`, null, { secret });
    const { records } = simulateSession(session.document, session.participant, session, session.seed, plainModel);
    for (const record of records) {
      if (isOver) return;
      const asked = performance.now();
      await post("/api/session/records", secret, { records: [record], log: [] });
      acknowledged.push(performance.now() - asked);
      await new Promise((resolve) => setTimeout(resolve, everyMs));
    }
  };
  const all = Array.from({ length: count }, async () => {
    while (!isOver) await takePart();
  });
  return async () => {
    isOver = true;
    await Promise.all(all);
    return acknowledged;
  };
}

/** The memory a process holds just now, in MiB; 0 where there is none. */
export function memoryOf(pid: number | undefined): number {
  try {
    return Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8"))?.[1] ?? 0) / 1024;
  } catch {
    return 0;
  }
}
