import { requireStudy } from "~/app/study-access.server";
import { frozenDocument } from "~/server/frozen-documents";
import { sittingsIn } from "~/server/sittings";
import { waveOf } from "~/server/waves";
import type { Route } from "./+types/study-sittings";

/** How the participants of a wave stand among the sittings of the study. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code, "see-sessions");
  const { store } = context;
  const wave = await waveOf(store.db, study.id, params.wave);
  if (!wave) return Response.json({ reason: "There is no such wave." }, { status: 404 });
  const document = await frozenDocument(store.db, wave.release_id);
  return Response.json(await sittingsIn(store, study.id, wave.id, document));
}
