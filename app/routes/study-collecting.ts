import { requireStudy } from "~/app/account.server";
import { askedFor, collectingStream } from "~/app/collect/collecting.server";
import type { Route } from "./+types/study-collecting";

/** How collecting stands, as server-sent events. `mark` is what the page was loaded with. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code);
  const stream = collectingStream(context.store, study.id, askedFor(request), {
    mark: new URL(request.url).searchParams.get("mark"),
    may: () => requireStudy(request, context, params.code).then(Boolean, () => false),
    signal: request.signal,
  });
  return new Response(stream, {
    headers: {
      "Content-Type": "text/event-stream",
      // Each event is to arrive at once.
      "Cache-Control": "no-store, no-transform",
      "X-Accel-Buffering": "no",
    },
  });
}
