import { requireStudy } from "~/app/account.server";
import { exported } from "~/app/exported.server";
import { exportChoice } from "~/app/results/export-choice";
import { exportFormats } from "~/core/export/formats/registry";
import type { Route } from "./+types/study-trials";

/** The trials alone. The address chooses the format and whether rehearsals are in. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { code } = await requireStudy(request, context, params.code);
  const choice = exportChoice(request);
  const { extension, mime } = exportFormats[choice.format];
  return exported(context, { kind: "trials", code, ...choice }, `${code}-trials.${extension}`, mime);
}
