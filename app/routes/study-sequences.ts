import { requireStudy } from "~/app/account.server";
import { plannedPlace } from "~/core/allocate/allocate";
import { compile } from "~/core/compile/compile";
import { csvLine, csvStart } from "~/core/export/csv";
import { sequenceHeader, sequenceRows } from "~/core/export/sequences";
import { listReleases } from "~/server/releases";
import type { Route } from "./+types/study-sequences";

const most = 500;

/** The planned sequences of a release (the newest, or `release=N`; `release=draft` for the study as saved) as CSV. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code);
  const query = new URL(request.url).searchParams;
  const releases = await listReleases(context.store, study.id);
  const asked = query.get("release");
  const release = asked === null ? releases[0] : releases.find(({ number }) => String(number) === asked);
  const document = release?.document ?? study.document;
  const participants = Math.max(1, Math.min(most, Math.floor(Number(query.get("participants") ?? 24)) || 24));
  const header = sequenceHeader(document);
  const options = { forSpreadsheet: false };
  const lines = Array.from({ length: participants }, (_, index) => {
    const place = plannedPlace(document, index + 1);
    const plan = compile(document, index + 1, document.settings.seed, place.group, place.orders);
    return sequenceRows(document, plan)
      .map((row) => csvLine(row, options))
      .join("");
  });
  const name = `${params.code}-${release ? `release-${release.number}` : "draft"}-sequences.csv`;
  return new Response(csvStart(header, options) + lines.join(""), {
    headers: { "Content-Type": "text/csv; charset=utf-8", "Content-Disposition": `attachment; filename="${name}"` },
  });
}
