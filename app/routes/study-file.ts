import { requireStudy } from "~/app/account.server";
import { exported } from "~/app/exported.server";
import type { Route } from "./+types/study-file";

/** The study with its media as one file. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { code } = await requireStudy(request, context, params.code);
  return exported(context, { kind: "study", code }, `${code}.lapwing.zip`, "application/zip");
}
