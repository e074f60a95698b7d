import { requireStudy } from "~/app/account.server";
import { compilePlanned } from "~/core/compile/planned";
import { csvLine, csvStart } from "~/core/export/csv";
import { sequenceHeader, sequenceRows } from "~/core/export/sequences";
import { listReleases } from "~/server/releases";
import type { Route } from "./+types/study-sequences";

const most = 500;
const options = { forSpreadsheet: false };

/** The planned sequences of a release (`release=N`, else the newest; of the study as saved where there is none) as CSV. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code);
  const query = new URL(request.url).searchParams;
  const releases = await listReleases(context.store, study.id);
  const asked = query.get("release");
  const release = asked === null ? releases[0] : releases.find(({ number }) => String(number) === asked);
  if (asked !== null && !release) return new Response(`There is no release ${asked} of this study.`, { status: 404 });
  const document = release?.document ?? study.document;
  const participants = Math.max(1, Math.min(most, Math.floor(Number(query.get("participants") ?? 24)) || 24));
  let participant = 0;
  // One participant at a time, so that sessions being recorded never wait for a long file.
  const lines = new ReadableStream<Uint8Array>({
    async pull(controller) {
      const utf8 = new TextEncoder();
      if (participant === 0) controller.enqueue(utf8.encode(csvStart(sequenceHeader(document), options)));
      await new Promise((resume) => setImmediate(resume));
      participant++;
      const rows = sequenceRows(document, compilePlanned(document, participant));
      controller.enqueue(utf8.encode(rows.map((row) => csvLine(row, options)).join("")));
      if (participant === participants) controller.close();
    },
  });
  const name = `${params.code}-${release ? `release-${release.number}` : "draft"}-sequences.csv`;
  return new Response(lines, {
    headers: { "Content-Type": "text/csv; charset=utf-8", "Content-Disposition": `attachment; filename="${name}"` },
  });
}
