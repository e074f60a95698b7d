import { requireStudy } from "~/app/account.server";
import { exportChoice } from "~/app/results/export-choice";
import { studyDataZip } from "~/server/export/study-data";
import { download } from "~/server/export/written";
import type { Route } from "./+types/study-data";

/** All data of a study in one zip. The address chooses the format and whether rehearsals are in. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code);
  const data = studyDataZip(context.store, study, exportChoice(request));
  return download(data, `${study.code}-data.zip`, "application/zip");
}
