import type { Patch } from "immer";
import type { Finding } from "~/core/check/finding";
import { excessesOf } from "~/core/allocate/bounds";
import { preflight } from "~/core/check/preflight";
import { balanceOf } from "~/core/balance/balance";
import type { Balance } from "~/core/balance/counts";
import { ribbonFor, type Ribbon } from "~/core/compile/ribbon";
import { patched } from "~/core/design/edits/edit";
import type { StudyDocument } from "~/core/design/document";
import { reacts, ruleCountsInWords, simulatedRuleCounts } from "~/core/simulate/rule-counts";

/** What the worker is told: the study, then only what changes in it, and what it is asked for. */
export type ToStudyWorker =
  | { kind: "document"; document: StudyDocument }
  | { kind: "patches"; patches: Patch[] }
  | { kind: "ribbon"; id: number; participant: number; color: string | null; height: string | null; sitting: number }
  | { kind: "balance"; participants: number };
export type FromStudyWorker =
  /** No ribbon where the study asks for more than it may. */
  | { kind: "ribbon"; id: number; ribbon: Ribbon | null }
  | { kind: "findings"; findings: Finding[] }
  /** `reactions`: what rules and criteria did over as many simulated participants, in sentences; none where there are none. */
  | { kind: "balance"; share: number; balance: Balance | null; reactions: string[] };

/** Findings come once edits pause, so that the ribbon never waits for them. */
const findingsAfterMs = 150;

let document: StudyDocument | null = null;
let timer: ReturnType<typeof setTimeout> | null = null;
const reply = (message: FromStudyWorker, handedOver: ArrayBuffer[] = []) =>
  postMessage(message, { transfer: handedOver });

addEventListener("message", ({ data }: MessageEvent<ToStudyWorker>) => {
  if (data.kind === "ribbon") {
    if (!document) return;
    if (excessesOf(document).length > 0) return reply({ kind: "ribbon", id: data.id, ribbon: null });
    const ribbon = ribbonFor(document, data.participant, data.color, data.height, data.sitting);
    // The lists are handed over instead of copied.
    const lists = [
      ...ribbon.parts.flatMap(({ ticks }) => (ticks ? [ticks.rows, ticks.colors, ticks.heights] : [])),
      ...ribbon.counts.uses.map(({ times }) => times),
    ].map(({ buffer }) => buffer as ArrayBuffer);
    return reply({ kind: "ribbon", id: data.id, ribbon }, lists);
  }
  if (data.kind === "balance") {
    if (document && excessesOf(document).length === 0) drawMany(document, data.participants);
    return;
  }
  document = data.kind === "document" ? data.document : document && patched(document, data.patches);
  if (timer) clearTimeout(timer);
  timer = setTimeout(() => {
    if (document) reply({ kind: "findings", findings: preflight(document) });
  }, findingsAfterMs);
});

/** Draws many participants and tells how far it is now and then. */
function drawMany(study: StudyDocument, participants: number): void {
  let told = 0;
  const numbers = Array.from({ length: participants }, (_, index) => index + 1);
  const balance = balanceOf(study, numbers, (share) => {
    if (share < told + 0.05 || share >= 1) return;
    told = share;
    reply({ kind: "balance", share, balance: null, reactions: [] });
  });
  const reactions = reacts(study) ? ruleCountsInWords(simulatedRuleCounts(study, numbers)) : [];
  reply({ kind: "balance", share: 1, balance, reactions });
}
