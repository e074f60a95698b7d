import { redirect } from "react-router";
import { requireStudy } from "~/app/study-access.server";
import { firstPage } from "~/core/rights/rights";
import type { Route } from "./+types/study-start";

export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { code, roles } = await requireStudy(request, context, params.code, "open-study", "start-sessions");
  return redirect(`/studies/${code}/${firstPage(roles)}`);
}
