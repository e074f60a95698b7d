import { requireStudy } from "~/app/account.server";
import { exportChoice } from "~/app/results/export-choice";
import { trialsFile } from "~/server/export/study-data";
import { download } from "~/server/export/written";
import type { Route } from "./+types/study-trials";

/** The trials alone. The address chooses the format and whether rehearsals are in. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code);
  const choice = exportChoice(request);
  const { extension, mime } = choice.format;
  return download(trialsFile(context.store, study, choice), `${study.code}-trials.${extension}`, mime);
}
