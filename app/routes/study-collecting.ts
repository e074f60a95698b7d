import { requireStudy } from "~/app/account.server";
import { askedFor, collecting } from "~/app/collect/collecting.server";
import type { Route } from "./+types/study-collecting";

/** How collecting stands just now. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code);
  return Response.json(await collecting(context.store, study.id, askedFor(request)));
}
