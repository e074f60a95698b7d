import { requireStudy } from "~/app/account.server";
import { trialsCsv } from "~/server/data-export";
import type { Route } from "./+types/study-trials";

/** The trials alone as CSV, streamed. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code);
  const query = new URL(request.url).searchParams;
  const pieces = trialsCsv(context.store, study, {
    forSpreadsheet: query.get("spreadsheet") === "yes",
    pilots: query.get("pilots") === "yes",
  });
  const encoder = new TextEncoder();
  const stream = new ReadableStream<Uint8Array>({
    pull: async (controller) => {
      const { done, value } = await pieces.next();
      if (done) controller.close();
      else controller.enqueue(encoder.encode(value));
    },
    cancel: async () => void (await pieces.return(undefined)),
  });
  return new Response(stream, {
    headers: {
      "Content-Type": "text/csv; charset=utf-8",
      "Content-Disposition": `attachment; filename="${study.code}-trials.csv"`,
      "Cache-Control": "no-store",
    },
  });
}
