import type { Place } from "~/core/order/place";
import type { ShownEnd } from "~/core/collect/ends";
import type { LogChunk } from "~/core/records/log";
import type { SessionRecord } from "~/core/records/record";
import type { SessionData, SessionDataAlone } from "~/core/run/session-data";
import type { Device } from "~/core/values/device";

/** `superseded`: the session continues on another computer. */
export type Acknowledged = {
  acknowledged: number;
  finished: boolean;
  code: string | null;
  superseded?: boolean | undefined;
  end?: ShownEnd;
};

/** The server said no for a reason that trying again does not change. */
export class Refused extends Error {
  constructor(
    reason: string,
    readonly status: number,
    /** No session that can go on has the code that was given. */
    readonly isUnknownCode = false,
    /** The link asks for another word. */
    readonly isWrongWord = false,
    /** Where the link leads those who come when it is full. */
    readonly end: ShownEnd | null = null,
  ) {
    super(reason);
  }

  /** The session continues on another computer. */
  get elsewhere(): boolean {
    return this.status === 409;
  }

  /** It came too late to go on. */
  get isLate(): boolean {
    return this.status === 410;
  }

  /** What was sent is too much, or has something in it that does not fit. */
  get isForContent(): boolean {
    return this.status === 400 || this.status === 413;
  }
}

async function json<T>(path: string, init: RequestInit): Promise<T> {
  const response = await fetch(path, { ...init, cache: "no-store", signal: AbortSignal.timeout(20_000) });
  // A proxy that finds it too long says so in its own words.
  if (response.status === 413) throw new Refused("This was too much at once.", 413);
  const body: unknown = await response.json();
  if (response.ok) return body as T;
  const reason =
    typeof body === "object" && body !== null && "reason" in body
      ? String(body.reason)
      : `The server answered ${response.status}.`;
  if (response.status >= 400 && response.status < 500 && response.status !== 408 && response.status !== 429)
    throw new Refused(
      reason,
      response.status,
      says(body, "goOn", "unknown"),
      says(body, "word", "wrong"),
      (body as { end?: ShownEnd }).end,
    );
  throw new Error(reason);
}

const says = (body: unknown, name: string, what: string): boolean =>
  typeof body === "object" && body !== null && (body as Record<string, unknown>)[name] === what;

const bearer = (secret: string) => ({ Authorization: `Bearer ${secret}` });

/** 192 random bits, made up here so that a start whose answer got lost can be asked for again. */
export const newSecret = (): string =>
  btoa(String.fromCharCode(...crypto.getRandomValues(new Uint8Array(24))))
    .replace(/\+/g, "-")
    .replace(/\//g, "_");

export const start = (
  token: string,
  secret: string,
  parameters: Record<string, string>,
  goOn: string | null,
  word: string | null,
): Promise<SessionData> =>
  withDocument(
    secret,
    json(`/api/join/${token}`, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({
        ...{ secret, parameters, documentApart: true },
        ...(goOn === null ? {} : { goOn }),
        ...(word === null ? {} : { word }),
      }),
    }),
  );
export const resume = (secret: string): Promise<SessionData> =>
  withDocument(secret, json("/api/session?document=apart", { headers: bearer(secret) }));

async function withDocument(secret: string, asked: Promise<SessionDataAlone>): Promise<SessionData> {
  const session = await asked;
  return { ...session, document: await json("/api/session/document", { headers: bearer(secret) }) };
}

/** Tells on what device a session begins; gives what is kept of it. */
export const tellDevice = async (secret: string, device: Device): Promise<Device | null> =>
  (
    await json<{ device: Device | null }>("/api/session/device", {
      method: "POST",
      headers: { ...bearer(secret), "Content-Type": "application/json" },
      body: JSON.stringify(device),
    })
  ).device;

/** The session's number, group and orders: what it has is given again. */
export const place = (secret: string): Promise<Place> =>
  json("/api/session/place", { method: "POST", headers: bearer(secret) });

export async function send(
  secret: string,
  sent: { records: SessionRecord[]; log: LogChunk[]; waiting: number },
): Promise<Acknowledged> {
  const answer = await json<Partial<Acknowledged> | null>("/api/session/records", {
    method: "POST",
    headers: { ...bearer(secret), "Content-Type": "application/json" },
    body: JSON.stringify(sent),
  });
  // Something between here and the server may answer instead.
  if (typeof answer?.acknowledged !== "number") throw new Error("This was not the server's answer.");
  return answer as Acknowledged;
}

/** A media file, told as it comes in how many bytes have come. Rejects with the reason in one word. */
export async function media(
  secret: string,
  sha256: string,
  onBytes: (count: number) => void,
): Promise<Uint8Array<ArrayBuffer>> {
  const response = await fetch(`/api/session/media/${sha256}`, {
    headers: bearer(secret),
    signal: AbortSignal.timeout(120_000),
  });
  if (!response.ok || !response.body) throw new Error(String(response.status));
  const pieces: Uint8Array[] = [];
  let length = 0;
  const reader = response.body.getReader();
  for (;;) {
    const { done, value } = await reader.read();
    if (done) break;
    pieces.push(value);
    length += value.length;
    onBytes(value.length);
  }
  const whole = new Uint8Array(length);
  let at = 0;
  for (const piece of pieces) {
    whole.set(piece, at);
    at += piece.length;
  }
  return whole;
}

export const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));
