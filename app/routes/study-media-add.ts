import { requireStudy } from "~/app/account.server";
import { mostMediaBytes } from "~/core/media/types";
import { storeMedia } from "~/server/media/study-media";
import type { Route } from "./+types/study-media-add";

/** Takes one media file, with what the browser measured of it; gives the media entry to be added to the document. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = await requireStudy(request, context, params.code);
  if (Number(request.headers.get("Content-Length") ?? 0) > mostMediaBytes + 100_000)
    return Response.json(
      { reason: `The file is larger than ${mostMediaBytes / 1024 / 1024} MB. Make it smaller.` },
      { status: 413 },
    );
  const form = await request.formData();
  const file = form.get("file");
  if (!(file instanceof File)) return Response.json({ reason: "No file was sent." }, { status: 400 });
  const [ms, width, height] = ["ms", "width", "height"].map((name) => Number(form.get(name) ?? NaN));
  const bytes = new Uint8Array(await file.arrayBuffer());
  const stored = await storeMedia(context.store, study.id, file.name, bytes, { ms, width, height });
  return stored.ok ? Response.json(stored.file) : Response.json({ reason: stored.reason }, { status: 422 });
}
