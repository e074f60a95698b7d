import { requireStudy } from "~/app/study-access.server";
import { askedFor, collecting, collectingStream, mayListen } from "~/app/collect/collecting.server";
import type { Route } from "./+types/study-collecting";

/**
 * How collecting stands: for who accepts server-sent events, as those, for as long as they listen (`mark` is what the page was
 * loaded with); else once, as JSON.
 */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code, "see-sessions");
  const asked = askedFor(request);
  if (!request.headers.get("Accept")?.includes("text/event-stream"))
    return Response.json(await collecting(context.store, study.id, asked));
  if (!mayListen(study.id)) return new Response("Too many pages listen to this study already.", { status: 503 });
  const stream = collectingStream(context.store, study.id, asked, {
    mark: new URL(request.url).searchParams.get("mark"),
    may: () => requireStudy(request, context, params.code, "see-sessions").then(Boolean, () => false),
    signal: request.signal,
  });
  return new Response(stream, {
    headers: {
      "Content-Type": "text/event-stream",
      // Each event is to arrive at once.
      "Cache-Control": "no-store, no-transform",
      "X-Accel-Buffering": "no",
      Vary: "Accept",
    },
  });
}
