import type { Id } from "../values/ref";
import type { Course, Phase } from "./state";

/** Where something happens: in a part, in a scene of it. */
export type Where = { part: Id | null; scene: Id | null };

/** Where a session stands, for the rules in reach. */
export function whereIn({ document, plan }: Course, phase: Phase): Where {
  if (phase.kind === "done" || phase.kind === "place") return { part: null, scene: null };
  if (phase.kind === "page" && phase.aside) return { part: phase.aside.page, scene: null };
  const part = plan.parts[phase.part]?.part ?? null;
  const block = part === null ? undefined : document.parts[part];
  const scene = phase.kind === "trial" && block?.kind === "block" ? (block.scenes[phase.scene]?.id ?? null) : null;
  return { part, scene };
}
