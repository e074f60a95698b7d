import { bearerOf, noSession } from "~/app/bearer.server";
import { mediaResponse } from "~/app/media-response.server";
import { readMedia } from "~/server/media";
import { sessionOfSecret } from "~/server/sessions";
import type { Route } from "./+types/api-session-media";

export async function loader({ request, context, params }: Route.LoaderArgs) {
  const session = await sessionOfSecret(context.store, bearerOf(request));
  if (!session || !session.document.media.some(({ sha256 }) => sha256 === params.sha256)) return noSession();
  const found = await readMedia(context.store, session.studyId, params.sha256);
  return found ? mediaResponse(found) : noSession();
}
