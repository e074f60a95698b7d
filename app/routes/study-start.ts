import { redirect } from "react-router";
import { requireStudy } from "~/app/account.server";
import type { Route } from "./+types/study-start";

export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { code } = await requireStudy(request, context, params.code);
  return redirect(`/studies/${code}/plan`);
}
