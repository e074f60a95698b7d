import type { NextFunction, Request, Response } from "express";
import { newSecret } from "../chance";

const common = {
  "X-Content-Type-Options": "nosniff",
  "Referrer-Policy": "same-origin",
  "X-Frame-Options": "DENY",
  "Cross-Origin-Resource-Policy": "same-origin",
  "Permissions-Policy": "camera=(), microphone=(), geolocation=()",
};

/** Headers of a page that is not ours and stands in a frame of ours: of an origin of its own, and without any device. */
export const foreignPage = {
  "X-Content-Type-Options": "nosniff",
  "Referrer-Policy": "no-referrer",
  "Cross-Origin-Resource-Policy": "same-origin",
  "Cross-Origin-Embedder-Policy": "require-corp",
  "Permissions-Policy": "camera=(), microphone=(), geolocation=()",
};

/** The address of participants' pages as researchers look at them, in a frame of ours. */
export const previewPath = "/participant-preview";

/** Pages of ours that stand in a frame of ours: participants' pages as they are designed, and a rehearsal. */
const framed = [previewPath, "/play"];

/** Headers of every answer; pages that take times are isolated, so that their timers have full resolution. */
export function securityHeaders(request: Request, response: Response, next: NextFunction): void {
  response.set(common);
  // What a player asks for is no page: nothing in it is ever shown or run.
  if (request.path.startsWith("/api/")) {
    response.set("Content-Security-Policy", "default-src 'none'; frame-ancestors 'none'");
    return next();
  }
  const nonce = newSecret();
  response.locals.nonce = nonce;
  const isFramed = framed.includes(request.path);
  response.set("Content-Security-Policy", pagePolicy(nonce, isFramed));
  if (isFramed) response.set("X-Frame-Options", "SAMEORIGIN");
  if (isIsolated(request.path))
    response.set({ "Cross-Origin-Opener-Policy": "same-origin", "Cross-Origin-Embedder-Policy": "require-corp" });
  next();
}

const pagePolicy = (nonce: string, isFramed: boolean) =>
  [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}'`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self' data:",
    // Media are kept as blobs while a session is played; sounds are decoded from them.
    // A bridge to devices is on the computer itself.
    "connect-src 'self' blob: ws://127.0.0.1:*",
    "media-src 'self' blob:",
    // Web pages as items: their frames are sandboxed and of an origin of their own.
    "frame-src 'self' https: http:",
    // Spreadsheet files are packed in workers that are made from blobs.
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    `frame-ancestors ${isFramed ? "'self'" : "'none'"}`,
  ].join("; ");

const isIsolated = (path: string) =>
  path.startsWith("/join/") || path === "/play" || path === "/self-test" || path.startsWith("/player/");

/** Refuses changes that another site's page sends with this site's cookie. */
export function ownOrigin(request: Request, response: Response, next: NextFunction): void {
  if (request.method === "GET" || request.method === "HEAD") return next();
  const origin = request.get("origin");
  const site = request.get("sec-fetch-site");
  const sameHost = origin
    ? hostOf(origin) === request.get("host")
    : site === undefined || site === "same-origin" || site === "none";
  if (sameHost) return next();
  response.status(403).json({ reason: "This change came from another site and was refused." });
}

const hostOf = (origin: string): string | null => {
  try {
    return new URL(origin).host;
  } catch {
    return null;
  }
};

/** Refuses bodies whose length is not said beforehand, so that limits can be checked before anything is read. */
export function knownLength(request: Request, response: Response, next: NextFunction): void {
  if (request.get("transfer-encoding") === undefined) return next();
  response.status(411).json({ reason: "Send the length of the content along (Content-Length)." });
}
