import { requireStudy } from "~/app/study-access.server";
import { linksOfSet } from "~/server/link-sets";
import type { Route } from "./+types/study-links";

/** The links of a set, each with its address and how far its person is. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code, "hand-out");
  const links = await linksOfSet(context.store, study.id, params.set);
  return links ? Response.json(links) : Response.json({ reason: "There are no such links." }, { status: 404 });
}
