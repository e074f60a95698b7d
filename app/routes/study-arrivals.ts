import { requireStudy } from "~/app/study-access.server";
import { arrivalsOf } from "~/server/results/arrivals";
import type { Route } from "./+types/study-arrivals";

/** How many sessions are in, for results that follow them. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { id } = await requireStudy(request, context, params.code, "see-results");
  return Response.json(await arrivalsOf(context.store, id), { headers: { "Cache-Control": "no-store" } });
}
