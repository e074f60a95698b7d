import { data } from "react-router";
import { requireStudy } from "~/app/study-access.server";
import { noteLook } from "~/server/study-log";
import type { RecordsPage } from "~/server/results/records";
import type { Route } from "./+types/study-rows";

/** A page of rows of the table of records that the address asks for, as Results do; the page's number is in it. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { code, by } = await requireStudy(request, context, params.code, "see-results");
  await noteLook(context.store.db, { code, by, what: "Results were looked at." });
  const query = new URL(request.url).searchParams;
  query.set("tab", "records");
  const found = await context.results.answered(code, query);
  if (!found) throw data("The study is gone.", { status: 404 });
  const { rows, total } = found.answer as RecordsPage;
  return Response.json({ rows, total });
}
