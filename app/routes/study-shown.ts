import { requireStudy } from "~/app/study-access.server";
import { whoseSession } from "~/server/session-view";
import { storedSession } from "~/server/shown-session";
import { noteLook } from "~/server/study-log";
import type { Route } from "./+types/study-shown";

/** One session with all that is needed to show again what its participant saw. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code, "see-results");
  const { db } = context.store;
  const found = await storedSession(context.store, study.id, params.session);
  if (found === null) return Response.json({ reason: "There is no such session." }, { status: 404 });
  if ("reason" in found) return Response.json(found, { status: 422 });
  const who = await whoseSession(db, params.session);
  await noteLook(db, { code: study.code, by: study.by, what: `${who}: what was seen was shown again.` });
  return Response.json(found);
}
