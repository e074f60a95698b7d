import type { StudyDocument } from "../../core/design/document";
import { serviceUrl } from "../../core/values/service";
import { foreignPage } from "./headers";

/*
 * The page from which a study's services are asked, in a frame of participants' pages. It has an origin of its own and reaches
 * nothing but what the study lists: no storage, no cookies, no page of ours.
 */

/** An answer of a service has no more characters. */
const longestAnswer = 64_000;

const inFrame = `addEventListener("message", async ({ data, source }) => {
  if (source !== parent) return;
  const { number, address, gets, limitMs } = data;
  const ending = new AbortController();
  const timer = setTimeout(() => ending.abort(), limitMs);
  const say = (what) => parent.postMessage({ number, ...what }, "*");
  try {
    const answer = await fetch(address, {
      method: "POST", body: JSON.stringify(gets), headers: { "Content-Type": "application/json" }, signal: ending.signal,
      credentials: "omit", referrerPolicy: "no-referrer", redirect: "error", cache: "no-store",
    });
    if (!answer.ok) throw new Error("It answered with status " + answer.status + ".");
    const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
    let text = "";
    for (let piece = await reader.read(); !piece.done; piece = await reader.read()) {
      text += piece.value;
      if (text.length > ${longestAnswer}) throw new Error("Its answer is longer than ${longestAnswer} characters.");
    }
    let gave;
    try { gave = JSON.parse(text); } catch { throw new Error("Its answer is no JSON."); }
    if (typeof gave !== "object" || gave === null || Array.isArray(gave)) throw new Error("Its answer is no object of values.");
    say({ gave });
  } catch (error) {
    const why = ending.signal.aborted ? "No answer came within " + limitMs + " ms."
      : error instanceof TypeError ? "It could not be reached." : error.message;
    say({ problem: String(why).slice(0, 300) });
  } finally { ending.abort(); clearTimeout(timer); }
});
parent.postMessage({ ready: true }, "*");`;

export const serviceFrame = `<!doctype html><meta charset="utf-8"><title>Services of a study</title><script>${inFrame}</script>`;

/** Its headers: it reaches the origins of the services and nothing else. `kept`: how long it may be kept. */
export const serviceFrameHeaders = ({ services }: StudyDocument, kept: string) => {
  const origins = [...new Set(services.flatMap(({ address }) => serviceUrl(address)?.origin ?? []))];
  return {
    ...foreignPage,
    "Cache-Control": kept,
    "Content-Security-Policy": [
      "sandbox allow-scripts",
      "default-src 'none'",
      "script-src 'unsafe-inline'",
      `connect-src ${origins.length > 0 ? origins.join(" ") : "'none'"}`,
      "form-action 'none'",
      "base-uri 'none'",
      "frame-ancestors 'self'",
    ].join("; "),
  };
};
