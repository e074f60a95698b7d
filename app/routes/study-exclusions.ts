import { requireStudy } from "~/app/study-access.server";
import { actionOrAway } from "~/app/when-away";
import { hasShape, mistakesIn } from "~/core/shape/shape";
import { exclusionChange } from "~/core/exclusions/change";
import { changeExclusions } from "~/server/exclusions";
import type { Route } from "./+types/study-exclusions";

/** Changes what is left out of a study's results. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = await requireStudy(request, context, params.code, "leave-out");
  const sent: unknown = await request.json().catch(() => null);
  if (!hasShape(exclusionChange, sent)) {
    const [mistake] = mistakesIn(exclusionChange, sent);
    const reason = `The exclusions were not changed: ${[mistake?.path, mistake?.message].filter(Boolean).join(" ")}.`;
    return Response.json({ reason }, { status: 400 });
  }
  const changed = await changeExclusions(context.store, study, study.by, sent);
  return changed.ok ? Response.json({}) : Response.json({ reason: changed.reason }, { status: 409 });
}

export const clientAction = actionOrAway;
