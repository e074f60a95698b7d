import { requireStudy } from "~/app/study-access.server";
import { readJson } from "~/app/form.server";
import { excessInWords } from "~/core/allocate/bounds";
import { rehearsalAsked, rehearsalBody, startRehearsal } from "~/server/rehearsals";
import { rehearsed } from "~/server/results/rehearsed";
import type { Route } from "./+types/study-rehearsals";

/** How rehearsals stand just now, and what one of them (`session=ID`, else the newest) recorded. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code, "rehearse");
  return Response.json(await rehearsed(context.store, study, new URL(request.url).searchParams.get("session")));
}

/** Starts a rehearsal of the study as it is saved; gives the address at which it is played. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = await requireStudy(request, context, params.code, "rehearse");
  const sent = await readJson(request, rehearsalBody);
  if (!sent) return Response.json({ reason: "Give the participant as a whole number from 1." }, { status: 400 });
  const excess = excessInWords(study.document);
  if (excess !== null) return Response.json({ reason: excess }, { status: 422 });
  const asked = rehearsalAsked(study.document, sent);
  if ("reason" in asked) return Response.json(asked, { status: 422 });
  const { secret } = await startRehearsal(context.store, study, asked, request.headers.get("User-Agent") ?? "");
  return Response.json({ address: `/play#${secret}` });
}
