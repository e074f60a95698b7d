import { requireStudy } from "~/app/study-access.server";
import { actionOrAway } from "~/app/when-away";
import { personsChange } from "~/core/persons/change";
import { hasShape, mistakesIn } from "~/core/shape/shape";
import { changePersons } from "~/server/persons";
import type { Route } from "./+types/study-scores";

/** Adds or changes a score over trials, or a norm sample, of a study. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = await requireStudy(request, context, params.code, "see-results");
  const sent: unknown = await request.json().catch(() => null);
  if (!hasShape(personsChange, sent)) {
    const [mistake] = mistakesIn(personsChange, sent);
    const reason = `Nothing was changed: ${[mistake?.path, mistake?.message].filter(Boolean).join(" ")}.`;
    return Response.json({ reason }, { status: 400 });
  }
  const changed = await changePersons(context.store, study, study.by, sent);
  return changed.ok ? Response.json({ id: changed.id }) : Response.json({ reason: changed.reason }, { status: 409 });
}

export const clientAction = actionOrAway;
