import { requireStudy } from "~/app/study-access.server";
import { mediaResponse } from "~/app/media-response.server";
import { readMedia } from "~/server/media/study-media";
import type { Route } from "./+types/study-media";

export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code, "open-study");
  const found = await readMedia(context.store, study.id, params.sha256);
  return found ? mediaResponse(found) : new Response("Not found.", { status: 404 });
}
