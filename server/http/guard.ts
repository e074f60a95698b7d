import { hostname } from "node:os";
import { isIP } from "node:net";
import type { NextFunction, Request, RequestHandler, Response } from "express";

const methods = ["GET", "HEAD", "POST"];
const jsonOnly = "application/json";
/** What our own pages send. */
const contentTypes = [jsonOnly, "application/x-www-form-urlencoded", "multipart/form-data"];

/** The address at which Lapwing is reached, as it was configured. */
export type PublicAddress = { origin: string; host: string; isSecure: boolean };

/** `LAPWING_URL` as an address; null where it is none. */
export function publicAddress(text: string): PublicAddress | null {
  try {
    const { origin, host, protocol, pathname } = new URL(text);
    const isWeb = protocol === "https:" || protocol === "http:";
    return isWeb && pathname === "/" ? { origin, host, isSecure: protocol === "https:" } : null;
  } catch {
    return null;
  }
}

const hostShape = /^(?:[a-z0-9.-]{1,253}|\[[0-9a-f:.]{2,45}\])(?::\d{1,5})?$/i;

/**
 * Whether a request may name this host. Names are believed only where they are ours: another's name that is made to lead
 * here gains nothing. Numbers cannot be made to lead elsewhere.
 */
export function isOurHost(host: string, address: PublicAddress | null): boolean {
  if (!hostShape.test(host)) return false;
  const name = host.replace(/:\d{1,5}$/, "").toLowerCase();
  const isHere = name === "localhost" || name === hostname().toLowerCase() || isIP(name.replace(/^\[|\]$/g, "")) !== 0;
  return isHere || host.toLowerCase() === address?.host;
}

/**
 * Refuses what none of our pages sends before anything looks at it: other methods, foreign or broken host names, other types
 * of content. What a proxy tells of the request is taken from this machine alone, and only where it can be true.
 */
export function guarded(address: PublicAddress | null): RequestHandler {
  return (request: Request, response: Response, next: NextFunction) => {
    const refuse = (status: number, reason: string) =>
      void response.status(status).set("Cache-Control", "no-store").json({ reason });
    if (!methods.includes(request.method)) {
      response.set("Allow", methods.join(", "));
      return refuse(405, "This cannot be asked for in this way.");
    }
    // Only one of these is ever needed, and only from a proxy: what is left out cannot mislead.
    delete request.headers["x-forwarded-host"];
    const forwarded = request.get("x-forwarded-for");
    if (forwarded !== undefined && !forwarded.split(",").every((each) => isIP(each.trim()) !== 0))
      return refuse(400, "The address for which this was forwarded cannot be read.");
    const protocol = request.get("x-forwarded-proto");
    if (protocol !== undefined && protocol !== "http" && protocol !== "https")
      return refuse(400, "The protocol by which this was forwarded cannot be read.");
    const host = request.get("host") ?? "";
    if (!isOurHost(host, address))
      return refuse(
        421,
        "Lapwing is not reached under this name. If it should be, set LAPWING_URL to its address when it is started.",
      );
    try {
      decodeURI(request.path);
      void new URL(request.originalUrl, "http://here");
    } catch {
      return refuse(400, "This address cannot be read.");
    }
    const type = (request.get("content-type") ?? "").split(";")[0]?.trim().toLowerCase() ?? "";
    const hasBody = Number(request.get("content-length") ?? 0) > 0;
    if (request.method === "POST" && hasBody) {
      if (request.path.startsWith("/api/") ? type !== jsonOnly : !contentTypes.includes(type))
        return refuse(415, "Content of this type is not taken here.");
    }
    next();
  };
}

/** Whose pace is kept: an address, or of the long ones the network it is in, since each computer there has very many. */
export function senderOf(request: Pick<Request, "ip">): string {
  const ip = request.ip ?? "";
  return ip.includes(":") && !ip.includes(".") ? `${expanded(ip).slice(0, 4).join(":")}::` : ip;
}

/** The eight groups of an IPv6 address. */
function expanded(ip: string): string[] {
  const [before = "", after] = ip.split("%")[0]?.split("::") ?? [];
  const groups = (text: string) => text.split(":").filter((each) => each !== "");
  const [head, tail] = [groups(before), groups(after ?? "")];
  const zeros = Array.from({ length: Math.max(0, 8 - head.length - tail.length) }, () => "0");
  return [...head, ...(after === undefined ? [] : zeros), ...tail].map((each) =>
    Number.parseInt(each, 16).toString(16),
  );
}

/** Answers are kept by nobody unless they say otherwise; behind TLS browsers come by TLS alone from then on. */
export function keptByNobody(address: PublicAddress | null): RequestHandler {
  return (request, response, next) => {
    if (address?.isSecure || request.secure) response.set("Strict-Transport-Security", "max-age=31536000");
    const writeHead = response.writeHead.bind(response) as (...head: unknown[]) => Response;
    response.writeHead = ((...head: unknown[]) => {
      if (!response.hasHeader("Cache-Control")) response.setHeader("Cache-Control", "no-store");
      return writeHead(...head);
    }) as typeof response.writeHead;
    next();
  };
}
