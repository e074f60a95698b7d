import * as yup from "yup";
import { requireStudy } from "~/app/study-access.server";
import { readJson } from "~/app/form.server";
import { historyOf, nameVersion } from "~/server/history";
import type { Route } from "./+types/study-history";

/** The points in time of a study, newest first. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code, "see-design");
  return Response.json(await historyOf(context.store, study));
}

const schema = yup.object({ revision: yup.number().integer().min(1).required(), name: yup.string().defined() });

/** Names a revision. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = await requireStudy(request, context, params.code, "change-design");
  const sent = await readJson(request, schema);
  if (!sent) return Response.json({ reason: "Give the version and a name for it." }, { status: 400 });
  await nameVersion(context.store, study, sent.revision, sent.name);
  return Response.json(await historyOf(context.store, study));
}
