import { requireStudy } from "~/app/study-access.server";
import { exported } from "~/app/exported.server";
import { excessInWords } from "~/core/allocate/bounds";
import { csv } from "~/core/export/formats/csv";
import { frozenDocument } from "~/server/frozen-documents";
import { listReleases, noRelease } from "~/server/releases";
import type { Route } from "./+types/study-sequences";

const most = 500;

/** The planned sequences of a release (`release=N`, else the newest; of the study as saved where there is none) as CSV; of the first sitting, or of `sitting=N`. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code, "see-design", "see-results");
  const query = new URL(request.url).searchParams;
  const releases = await listReleases(context.store, study.id);
  const asked = query.get("release");
  const release = asked === null ? releases[0] : releases.find(({ number }) => String(number) === asked);
  if (asked !== null && !release) return new Response(noRelease(asked), { status: 404 });
  const document = release ? await frozenDocument(context.store.db, release.id) : study.document;
  const excess = excessInWords(document);
  if (excess !== null) return new Response(excess, { status: 422 });
  const participants = Math.max(1, Math.min(most, Math.floor(Number(query.get("participants") ?? 24)) || 24));
  const sittings = Math.max(1, document.sittings.length);
  const sitting = Number(query.get("sitting") ?? 1);
  if (!Number.isInteger(sitting) || sitting < 1 || sitting > sittings)
    return new Response(`This study has ${sittings === 1 ? "one sitting" : `sittings 1 to ${sittings}`}.`, {
      status: 404,
    });
  const name = `${params.code}-${release ? `release-${release.number}` : "draft"}${sitting > 1 ? `-sitting-${sitting}` : ""}-sequences.csv`;
  return exported(
    context,
    { kind: "sequences", code: study.code, release: release?.id ?? null, participants, sitting },
    name,
    csv.mime,
  );
}
