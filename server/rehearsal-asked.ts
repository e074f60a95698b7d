import * as yup from "yup";
import { plannedAssignment } from "../core/allocate/allocate";
import { outline } from "../core/compile/compile";
import type { StudyDocument } from "../core/design/document";
import { fast } from "../core/run/rehearsal";
import { pointsKey } from "../core/records/rule-bounds";
import { textProblem, valueFromText } from "../core/values/given";
import type { Id, Value } from "../core/values/ref";
import type { AskedRehearsal } from "./sessions";

/** A rehearsal as the page asks for it: values are texts by the id of their variable, as they are typed. */
export const rehearsalBody = yup
  .object({
    participant: yup.number().integer().min(1).max(100_000).required(),
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

/** What is to be rehearsed, or why it cannot be. */
export function rehearsalAsked(
  document: StudyDocument,
  { participant, from, speed, stepwise, values = [] }: RehearsalBody,
): AskedRehearsal | { reason: string } {
  const { group, orders } = plannedAssignment(document, participant);
  if (from && !outline(document, participant, group, orders).parts.includes(from.part))
    return { reason: `Participant ${participant} does not come to this part. Choose another, or another participant.` };
  const given: Record<Id, Value> = {};
  for (const [id, text] of values as [string, string][]) {
    const variable =
      id === pointsKey
        ? { name: "points", type: "number" as const }
        : document.variables.find((variable) => variable.id === id);
    if (!variable) return { reason: "A variable to be set is not there any more. Load the page again." };
    const problem = textProblem(variable, text);
    if (problem !== null) return { reason: `${variable.name}: ${problem}` };
    const value = valueFromText(variable, text);
    if (value !== null) given[id] = value;
  }
  return {
    participant,
    given,
    how: { ...(from ? { from } : {}), ...(speed === fast ? { speed } : {}), ...(stepwise ? { stepwise } : {}) },
  };
}
