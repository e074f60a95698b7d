import { requireStudy } from "~/app/study-access.server";
import { withFile } from "~/server/http/receive";
import { storeMediaFile } from "~/server/media/study-media";
import type { Route } from "./+types/study-media-add";

/** Takes one media file, with what the browser measured of it; gives the media entry to be added to the document. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = await requireStudy(request, context, params.code, "change-design");
  const stored = await withFile(request, context.store.media, ({ path, name, fields }) => {
    const [ms, width, height] = ["ms", "width", "height"].map((each) => Number(fields[each] ?? NaN));
    return storeMediaFile(context.store, study.id, name, path, { ms, width, height });
  });
  if (!stored) return Response.json({ reason: "No file was sent." }, { status: 400 });
  return stored.ok ? Response.json(stored.file) : Response.json({ reason: stored.reason }, { status: 422 });
}
