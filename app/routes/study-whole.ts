import { exported } from "~/app/exported.server";
import { requireStudy } from "~/app/study-access.server";
import { noteDeed } from "~/server/study-log";
import type { Route } from "./+types/study-whole";

/** A study with its data as one file for another installation: `?wave=ID`, `?finished=yes`, `?codes=yes`. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { code, by } = await requireStudy(request, context, params.code, "keep-data");
  const query = new URL(request.url).searchParams;
  const codes = query.get("codes") === "yes";
  await noteDeed(context.store.db, {
    ...{ code, by, kind: "exported" },
    what: `The study and its data were taken away for another installation${codes ? ", with the codes of participants" : ""}.`,
  });
  const choice = { codes, wave: query.get("wave"), finished: query.get("finished") === "yes" };
  const day = new Date().toISOString().slice(0, 10);
  return exported(context, { kind: "whole", code, ...choice }, `${code}-${day}.lapwing-data.zip`, "application/zip");
}
