import { requireStudy } from "~/app/account.server";
import { mostPictureBytes } from "~/core/design/pictures";
import { storePicture } from "~/server/media";
import type { Route } from "./+types/study-pictures";

/** Takes one picture; gives the media entry to be added to the document. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = await requireStudy(request, context, params.code);
  if (Number(request.headers.get("Content-Length") ?? 0) > mostPictureBytes + 100_000)
    return Response.json(
      { reason: `The picture is larger than ${mostPictureBytes / 1024 / 1024} MB. Make it smaller.` },
      { status: 413 },
    );
  const file = (await request.formData()).get("picture");
  if (!(file instanceof File)) return Response.json({ reason: "No picture was sent." }, { status: 400 });
  const stored = await storePicture(context.store, study.id, file.name, new Uint8Array(await file.arrayBuffer()));
  return stored.ok ? Response.json(stored.file) : Response.json({ reason: stored.reason }, { status: 422 });
}
