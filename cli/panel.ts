import { randomBytes } from "node:crypto";
import { createServer } from "node:http";
import express, { type Response } from "express";
import { endNames, type EndName } from "../core/collect/ends";
import { escaped } from "../core/shape/escaped";
import { listening, type Listening } from "./listening";

/** Somebody whom the panel sent to a study, and as what they came back. */
export type Sent = { person: string; visit: string; sentAt: string; as: EndName | null; code: string };
type Listed = { name: string; link: string };
export type Panel = Listening & { sent: Sent[] };

const [mostSent, longest] = [10_000, 2000];
const inWords: Record<EndName, string> = {
  finished: "finished",
  "screened-out": "screened out",
  declined: "declined",
  full: "came when it was full",
};

/**
 * A small recruiting panel to try a study with and for tests: it lists a study, sends people to its link with parameters of
 * its own, takes them back, and shows who was counted as what. It keeps all of that only while it runs.
 */
export async function startPanel(port: number, listed: Listed | null = null): Promise<Panel> {
  const sent: Sent[] = [];
  let study = listed;
  const app = express().disable("x-powered-by");
  app.use(express.urlencoded({ extended: false, limit: "10kb" }));

  app.get("/", (request, response) => {
    const here = `${request.protocol}://${request.get("host") ?? ""}`;
    page(response, study ? overview(study, sent, here) : asking(""));
  });
  app.post("/study", (request, response) => {
    const { name, link } = request.body as Record<string, unknown>;
    const problem = listingProblem(link);
    if (problem !== null) return page(response, asking(problem), 400);
    study = { name: String(name).slice(0, 100), link: String(link).trim() };
    response.redirect(303, "/");
  });
  app.post("/send", (_, response) => {
    if (!study) return void response.redirect(303, "/");
    if (sent.length >= mostSent)
      return page(response, "<p>It has sent as many people as it can. Start it anew.</p>", 503);
    const person = `person-${String(sent.length + 1).padStart(4, "0")}`;
    const visit = randomBytes(6).toString("hex");
    sent.push({ person, visit, sentAt: new Date().toISOString(), as: null, code: "" });
    const to = new URL(study.link);
    to.searchParams.set("participant", person);
    to.searchParams.set("visit", visit);
    response.redirect(303, to.href);
  });
  app.get("/back", ({ query }, response) => {
    const { visit, as, code } = query;
    const who = sent.find((each) => each.visit === visit);
    const end = endNames.find((name) => name === as);
    if (!who || !end) return page(response, "<h1>Nobody was sent by this address</h1>", 404);
    // Whoever comes back again stays what they were first.
    if (who.as === null) Object.assign(who, { as: end, code: typeof code === "string" ? code.slice(0, 100) : "" });
    page(
      response,
      `<h1>Welcome back, ${escaped(who.person)}</h1><p role="status">You are counted as: ${inWords[who.as ?? end]}.</p>`,
    );
  });

  return { sent, ...(await listening(createServer(app), port)) };
}

/** The address to which a link's end leads back, as it is set in Lapwing. */
export const backAddress = (panel: string, as: EndName): string =>
  `${new URL("/back", panel).href}?visit={{link.visit}}&as=${as}&code={{session.code}}`;

function listingProblem(link: unknown): string | null {
  if (typeof link !== "string" || link.length > longest || !URL.canParse(link.trim()))
    return "Type the address of the study’s link.";
  return /^https?:$/.test(new URL(link.trim()).protocol) ? null : "The link begins with http:// or https://.";
}

const asking = (problem: string) => `<h1>A recruiting panel, to try with</h1>
<form method="post" action="/study">
<label>Name of the study <input name="name" maxlength="100" required></label>
<label>Its link <input name="link" size="60" required></label>
${problem === "" ? "" : `<p role="alert">${escaped(problem)}</p>`}
<button>List the study</button>
</form>`;

const overview = ({ name, link }: Listed, sent: readonly Sent[], here: string) => `<h1>${escaped(name)}</h1>
<p>${escaped(link)}</p>
<form method="post" action="/send" target="_blank"><button>Take part</button></form>
<h2>Where the link’s ends lead back to</h2>
<dl>${endNames.map((as) => `<dt>${inWords[as]}</dt><dd><code>${escaped(backAddress(here, as))}</code></dd>`).join("")}</dl>
<h2>People</h2>
<table><thead><tr><th>person</th><th>sent</th><th>counted as</th><th>code</th></tr></thead><tbody>
${sent
  .map(
    ({ person, sentAt, as, code }) =>
      `<tr><td>${person}</td><td>${sentAt.slice(11, 19)} UTC</td><td>${as === null ? "on the way" : inWords[as]}</td><td>${escaped(code)}</td></tr>`,
  )
  .join("\n")}
</tbody></table>`;

function page(response: Response, body: string, status = 200): void {
  response.status(status).set({
    "Content-Type": "text/html; charset=utf-8",
    "Cache-Control": "no-store",
    "Content-Security-Policy": "default-src 'none'; style-src 'unsafe-inline'",
  });
  response.send(`<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>A recruiting panel, to try with</title>
<style>body{font:16px/1.5 serif;max-width:52rem;margin:2rem auto;padding:0 1rem}label{display:block;margin:.5rem 0}td,th{text-align:left;padding:.1rem 1.2rem .1rem 0}code{font-size:.85rem}</style>
</head><body>${body}</body></html>`);
}
