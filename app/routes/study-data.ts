import { requireStudy } from "~/app/account.server";
import { dataZip } from "~/server/data-export";
import type { Route } from "./+types/study-data";

/** Trials, sessions and codebook in one zip. `?spreadsheet=yes` for a spreadsheet program, `?pilots=yes` with rehearsals. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code);
  const query = new URL(request.url).searchParams;
  const stream = dataZip(context.store, study, {
    forSpreadsheet: query.get("spreadsheet") === "yes",
    pilots: query.get("pilots") === "yes",
  });
  return new Response(stream, {
    headers: {
      "Content-Type": "application/zip",
      "Content-Disposition": `attachment; filename="${study.code}-data.zip"`,
      "Cache-Control": "no-store",
    },
  });
}
