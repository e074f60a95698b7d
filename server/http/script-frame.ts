import { Router } from "express";
import { foreignPage } from "./headers";

/*
 * The page in which scripts of a study run, in a frame of participants' pages. It has an origin of its own, reaches no
 * network, no storage and no page of ours; each script runs in a worker that is made for it and ended with it, so that none
 * can hold up anything else or know of another.
 */

/** Runs in a worker: the script as a function of its values. */
const inWorker = `onmessage = ({ data: { code, gets } }) => {
  const say = (what) => postMessage(what);
  const fail = (error) => say({ problem: String(error && error.message ? error.name + ": " + error.message : error).slice(0, 300) });
  try {
    Promise.resolve(new Function("values", '"use strict";' + code)(gets)).then((gave) => say({ gave }), fail);
  } catch (error) { fail(error); }
};`;

/** Runs in the frame: starts a worker for each script that is asked for, and ends it when it has given something or its time is up. */
const inFrame = `const source = URL.createObjectURL(new Blob([${JSON.stringify(inWorker)}], { type: "text/javascript" }));
addEventListener("message", ({ data, source: asking }) => {
  if (asking !== parent) return;
  const { number, code, gets, limitMs } = data;
  const worker = new Worker(source);
  let isOver = false;
  const done = (what) => {
    if (isOver) return;
    isOver = true;
    worker.terminate();
    clearTimeout(timer);
    try { parent.postMessage({ number, ...what }, "*"); }
    catch { parent.postMessage({ number, problem: "It gave something that is no text, number or yes or no." }, "*"); }
  };
  const timer = setTimeout(() => done({ problem: "It took longer than " + limitMs + " ms." }), limitMs);
  worker.onmessage = ({ data: what }) => done(what);
  worker.onerror = ({ message }) => done({ problem: String(message).slice(0, 300) });
  worker.onmessageerror = () => done({ problem: "It gave something that cannot be passed on." });
  worker.postMessage({ code, gets });
});
parent.postMessage({ ready: true }, "*");`;

const page = `<!doctype html><meta charset="utf-8"><title>Scripts of a study</title><script>${inFrame}</script>`;

const headers = {
  ...foreignPage,
  "Cache-Control": "public, max-age=3600",
  "Content-Security-Policy": [
    "sandbox allow-scripts",
    "default-src 'none'",
    // Only here may a text become a program: nothing of a participant's page is in reach.
    "script-src 'unsafe-inline' 'unsafe-eval' blob:",
    "worker-src blob:",
    "connect-src 'none'",
    "form-action 'none'",
    "base-uri 'none'",
    "frame-ancestors 'self'",
  ].join("; "),
};

export function scriptFrame(): Router {
  const router = Router();
  router.get("/script-frame", (_, response) => void response.set(headers).type("text/html").send(page));
  return router;
}
