import * as yup from "yup";
import { plannedAssignment } from "../core/allocate/allocate";
import { outline } from "../core/compile/compile";
import type { StudyDocument } from "../core/design/document";
import { fast, type Rehearsal } from "../core/run/rehearsal";
import type { Given } from "../core/run/state";
import { sittingCount } from "../core/order/sittings";
import { pointsKey } from "../core/records/rule-bounds";
import { textProblem, valueFromText } from "../core/values/given";
import type { Id, Value } from "../core/values/ref";
import type { SessionData } from "../core/run/session-data";
import { newSecret } from "./chance";
import type { Store } from "./database/open";
import { frozenDocument } from "./frozen-documents";
import { insertSession } from "./new-session";
import { rehearsalRelease } from "./releases";
import type { Study } from "./studies";

/** A rehearsal as the page asks for it: values are texts by the id of their variable, as they are typed. */
export const rehearsalBody = yup
  .object({
    participant: yup.number().integer().min(1).max(100_000).required(),
    sitting: yup.number().integer().min(1).max(60),
    from: yup
      .object({ part: yup.string().max(60).required(), trial: yup.number().integer().min(1).max(1e7).required() })
      .noUnknown()
      .optional()
      .default(undefined),
    speed: yup.number().oneOf([1, fast]).optional(),
    stepwise: yup.boolean().optional(),
    values: yup.array(yup.tuple([yup.string().max(60).required(), yup.string().max(1000).defined()])).max(100),
  })
  .noUnknown();
export type RehearsalBody = yup.InferType<typeof rehearsalBody>;

/** What a researcher chooses for a rehearsal; `given` are variables set by hand, by id, and points by a name of their own. */
export type AskedRehearsal = { participant: number; sitting?: number; given?: Given; how?: Rehearsal };

/** What is to be rehearsed, or why it cannot be. */
export function rehearsalAsked(
  document: StudyDocument,
  { participant, sitting = 1, from, speed, stepwise, values = [] }: RehearsalBody,
): AskedRehearsal | { reason: string } {
  const { group, orders } = plannedAssignment(document, participant);
  if (sitting > sittingCount(document)) return { reason: "This sitting is not there any more. Choose another." };
  if (from && !outline(document, { participant, group, orders, sitting }).parts.includes(from.part))
    return { reason: `Participant ${participant} does not come to this part. Choose another, or another participant.` };
  const given: Record<Id, Value | null> = {};
  for (const [id, text] of values as [string, string][]) {
    const variable =
      id === pointsKey
        ? { name: "points", type: "number" as const }
        : document.variables.find((variable) => variable.id === id);
    if (!variable) return { reason: "A variable to be set is not there any more. Load the page again." };
    const problem = textProblem(variable, text);
    if (problem !== null) return { reason: `${variable.name}: ${problem}` };
    given[id] = valueFromText(variable, text);
  }
  return {
    participant,
    sitting,
    given,
    how: { ...(from ? { from } : {}), ...(speed === fast ? { speed } : {}), ...(stepwise ? { stepwise } : {}) },
  };
}

/** Starts a rehearsal of the study as it is saved, or of a release of it, as a chosen participant. Its data are pilot data. */
export async function startRehearsal(
  store: Store,
  study: Study,
  { participant, sitting = 1, given = {}, how = {} }: AskedRehearsal,
  browser: string,
  release: string | null = null,
): Promise<{ secret: string; session: SessionData }> {
  const releaseId = release ?? (await rehearsalRelease(store, study));
  const document = release === null ? study.document : await frozenDocument(store.db, release);
  const secret = newSecret();
  const session = await store.db.transaction().execute((trx) =>
    insertSession(trx, secret, {
      studyId: study.id,
      releaseId,
      waveId: null,
      link: null,
      document,
      place: { participant, ...plannedAssignment(document, participant) },
      stratum: "",
      code: null,
      sitting,
      entered: 0,
      asked: null,
      pilot: true,
      rehearsal: { how, given },
      browser,
    }),
  );
  return { secret, session };
}
