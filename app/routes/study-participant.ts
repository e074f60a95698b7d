import { requireStudy } from "~/app/account.server";
import { exported } from "~/app/exported.server";
import type { Route } from "./+types/study-participant";

/** Everything that is stored of one participant, by their number, as one file. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { code } = await requireStudy(request, context, params.code);
  if (!/^[1-9]\d{0,6}$/.test(params.number)) return new Response("Not found.", { status: 404 });
  const participant = Number(params.number);
  return exported(
    context,
    { kind: "participant", code, participant },
    `${code}-participant-${participant}.zip`,
    "application/zip",
  );
}
