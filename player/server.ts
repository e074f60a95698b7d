import type { SessionRecord } from "~/core/run/records";
import type { SessionData } from "~/core/run/session-data";

export type Acknowledged = { acknowledged: number; finished: boolean; code: string | null };

/** The server said no for a reason that trying again does not change. */
export class Refused extends Error {}

async function json<T>(path: string, init: RequestInit): Promise<T> {
  const response = await fetch(path, { ...init, cache: "no-store", signal: AbortSignal.timeout(20_000) });
  const body: unknown = await response.json();
  if (response.ok) return body as T;
  const reason =
    typeof body === "object" && body !== null && "reason" in body
      ? String(body.reason)
      : `The server answered ${response.status}.`;
  if (response.status >= 400 && response.status < 500 && response.status !== 408 && response.status !== 429)
    throw new Refused(reason);
  throw new Error(reason);
}

const bearer = (secret: string) => ({ Authorization: `Bearer ${secret}` });

/** 192 random bits, made up here so that a start whose answer got lost can be asked for again. */
export const newSecret = (): string =>
  btoa(String.fromCharCode(...crypto.getRandomValues(new Uint8Array(24))))
    .replace(/\+/g, "-")
    .replace(/\//g, "_");

export const start = (token: string, secret: string, parameters: Record<string, string>): Promise<SessionData> =>
  json(`/api/join/${token}`, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ secret, parameters }),
  });
export const resume = (secret: string): Promise<SessionData> => json("/api/session", { headers: bearer(secret) });
export const send = (secret: string, records: SessionRecord[]): Promise<Acknowledged> =>
  json("/api/session/records", {
    method: "POST",
    headers: { ...bearer(secret), "Content-Type": "application/json" },
    body: JSON.stringify(records),
  });

export async function media(secret: string, sha256: string): Promise<Blob> {
  const response = await fetch(`/api/session/media/${sha256}`, {
    headers: bearer(secret),
    signal: AbortSignal.timeout(60_000),
  });
  if (!response.ok) throw new Error(`The server answered ${response.status}.`);
  return response.blob();
}

export const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));
