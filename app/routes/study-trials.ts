import { requireStudy } from "~/app/study-access.server";
import { exported } from "~/app/exported.server";
import { exportChoice } from "~/app/results/export-choice";
import { exportFormats } from "~/core/export/formats/registry";
import { noteDeed } from "~/server/study-log";
import type { Route } from "./+types/study-trials";

/** The trials alone. The address chooses the format and whether rehearsals are in. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { code, by } = await requireStudy(request, context, params.code, "see-results");
  const choice = exportChoice(request);
  await noteDeed(context.store.db, {
    code,
    by,
    what: `The trials were taken away as ${choice.format}.`,
    kind: "exported",
  });
  const { extension, mime } = exportFormats[choice.format];
  return exported(context, { kind: "trials", code, ...choice }, `${code}-trials.${extension}`, mime);
}
