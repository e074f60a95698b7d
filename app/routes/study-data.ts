import { requireStudy } from "~/app/study-access.server";
import { exported } from "~/app/exported.server";
import { exportChoice } from "~/app/results/export-choice";
import { mayDo } from "~/core/rights/rights";
import { noteDeed } from "~/server/study-log";
import type { Route } from "./+types/study-data";

/** All data of a study in one zip. The address chooses the format, and whether rehearsals and codes are in. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { code, by, roles } = await requireStudy(request, context, params.code, "see-results");
  const choice = exportChoice(request);
  await noteDeed(context.store.db, {
    code,
    by,
    what: `The data were taken away as ${choice.format}${choice.codes ? ", with the codes of participants" : ""}.`,
    kind: "exported",
  });
  return exported(
    context,
    { kind: "data", code, ...choice, design: mayDo(roles, "see-design") },
    `${code}-data.zip`,
    "application/zip",
  );
}
