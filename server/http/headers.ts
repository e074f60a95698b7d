import type { NextFunction, Request, Response } from "express";
import { newSecret } from "../chance";

const common = {
  "X-Content-Type-Options": "nosniff",
  "Referrer-Policy": "same-origin",
  "X-Frame-Options": "DENY",
  "Cross-Origin-Resource-Policy": "same-origin",
  "Permissions-Policy": "camera=(), microphone=(), geolocation=()",
};

/** Headers of every answer; participant pages are isolated, so that their timers have full resolution. */
export function securityHeaders(request: Request, response: Response, next: NextFunction): void {
  const nonce = newSecret();
  response.locals.nonce = nonce;
  response.set(common);
  response.set(
    "Content-Security-Policy",
    [
      "default-src 'self'",
      `script-src 'self' 'nonce-${nonce}'`,
      "style-src 'self' 'unsafe-inline'",
      "img-src 'self' data: blob:",
      "font-src 'self' data:",
      "connect-src 'self'",
      "worker-src 'self'",
      "object-src 'none'",
      "base-uri 'none'",
      "form-action 'self'",
      "frame-ancestors 'none'",
    ].join("; "),
  );
  if (isParticipantPage(request.path))
    response.set({ "Cross-Origin-Opener-Policy": "same-origin", "Cross-Origin-Embedder-Policy": "require-corp" });
  next();
}

const isParticipantPage = (path: string) =>
  path.startsWith("/join/") || path === "/play" || path.startsWith("/player/");

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
