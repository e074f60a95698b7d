import { requireStudy } from "~/app/account.server";
import { exported } from "~/app/exported.server";
import { exportChoice } from "~/app/results/export-choice";
import type { Route } from "./+types/study-data";

/** All data of a study in one zip. The address chooses the format and whether rehearsals are in. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { code } = await requireStudy(request, context, params.code);
  return exported(context, { kind: "data", code, ...exportChoice(request) }, `${code}-data.zip`, "application/zip");
}
