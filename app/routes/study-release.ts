import { requireStudy } from "~/app/account.server";
import { frozenDocument } from "~/server/frozen-documents";
import { listReleases } from "~/server/releases";
import type { Route } from "./+types/study-release";

/** The document of a release, by the release's number. It never changes. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code);
  const release = (await listReleases(context.store, study.id)).find(({ number }) => String(number) === params.number);
  if (!release) return new Response(`There is no release ${params.number} of this study.`, { status: 404 });
  return Response.json(await frozenDocument(context.store.db, release.id), {
    headers: { "Cache-Control": "private, max-age=86400, immutable" },
  });
}
