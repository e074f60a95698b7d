import { requireStudy } from "~/app/study-access.server";
import { keptAsideOf, toldAside } from "~/server/kept-aside";
import type { Route } from "./+types/study-kept-aside";

/** The records of one session that came under numbers that were taken, and how they differ from those that stand. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code, "see-results");
  return (await keptAsideOf(context.store, study, { session: params.session })).map((each) => toldAside(study, each));
}
