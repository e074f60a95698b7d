import { requireStudy } from "~/app/study-access.server";
import { actionOrAway } from "~/app/when-away";
import { paperChange } from "~/core/paper/piece";
import { hasShape } from "~/core/shape/shape";
import { changePaper } from "~/server/paper";
import type { Route } from "./+types/study-paper";

/** Keeps a figure for the paper of a study, moves it, or takes it out. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = await requireStudy(request, context, params.code, "see-results");
  const sent: unknown = await request.json().catch(() => null);
  if (!hasShape(paperChange, sent))
    return Response.json({ reason: "This figure cannot be kept: it is larger than a paper takes." }, { status: 400 });
  const changed = await changePaper(context.store, study.id, sent);
  return changed.ok ? Response.json({ id: changed.id }) : Response.json({ reason: changed.reason }, { status: 409 });
}

export const clientAction = actionOrAway;
