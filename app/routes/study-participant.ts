import { requireStudy } from "~/app/study-access.server";
import { exported } from "~/app/exported.server";
import { noteDeed } from "~/server/study-log";
import type { Route } from "./+types/study-participant";

/** Everything that is stored of one participant, by their number, or of one session without a number, as one file. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { code, by } = await requireStudy(request, context, params.code, "keep-data");
  const isNumber = /^[1-9]\d{0,6}$/.test(params.number);
  if (!isNumber && !/^[\w-]{1,40}$/.test(params.number)) return new Response("Not found.", { status: 404 });
  const whose = isNumber ? { participant: Number(params.number) } : { session: params.number };
  const what = `What is kept of ${isNumber ? `participant ${params.number}` : "a session without a number"} was taken away.`;
  await noteDeed(context.store.db, { code, by, what, kind: "exported" });
  return exported(
    context,
    { kind: "participant", code, whose },
    `${code}-${isNumber ? "participant" : "session"}-${params.number}.zip`,
    "application/zip",
  );
}
