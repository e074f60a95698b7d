import { requireStudy } from "~/app/study-access.server";
import { exported } from "~/app/exported.server";
import { exportChoice } from "~/app/results/export-choice";
import { layoutNames } from "~/core/export/layouts/layouts";
import { mayDo } from "~/core/rights/rights";
import { noteDeed } from "~/server/study-log";
import type { Route } from "./+types/study-data";

/** All data of a study in one zip. The address chooses the format, and whether rehearsals and codes are in. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { code, by, roles } = await requireStudy(request, context, params.code, "see-results");
  const choice = exportChoice(request);
  const asked = new URL(request.url).searchParams.get("layout");
  const layout = layoutNames.find((each) => each === asked);
  const design = mayDo(roles, "see-design");
  await noteDeed(context.store.db, {
    code,
    by,
    what: `The data were taken away as ${layout ?? choice.format}${choice.codes ? ", with the codes of participants" : ""}.`,
    kind: "exported",
  });
  if (layout !== undefined) {
    const task = { kind: "layout" as const, code, layout, wave: choice.wave, design };
    return exported(context, task, `${code}-${layout}.zip`, "application/zip");
  }
  return exported(context, { kind: "data", code, ...choice, design }, `${code}-data.zip`, "application/zip");
}
