import { requireStudy } from "~/app/account.server";
import { exportStudy } from "~/server/study-file";
import type { Route } from "./+types/study-file";

/** The study with its media as one file. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code);
  return new Response(await exportStudy(context.store, study), {
    headers: {
      "Content-Type": "application/zip",
      "Content-Disposition": `attachment; filename="${study.code}.lapwing.zip"`,
    },
  });
}
