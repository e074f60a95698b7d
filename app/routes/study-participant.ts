import { requireStudy } from "~/app/account.server";
import { exported } from "~/app/exported.server";
import type { Route } from "./+types/study-participant";

/** Everything that is stored of one participant, by their number, or of one session without a number, as one file. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { code } = await requireStudy(request, context, params.code);
  const isNumber = /^[1-9]\d{0,6}$/.test(params.number);
  if (!isNumber && !/^[\w-]{1,40}$/.test(params.number)) return new Response("Not found.", { status: 404 });
  const whose = isNumber ? { participant: Number(params.number) } : { session: params.number };
  return exported(
    context,
    { kind: "participant", code, whose },
    `${code}-${isNumber ? "participant" : "session"}-${params.number}.zip`,
    "application/zip",
  );
}
