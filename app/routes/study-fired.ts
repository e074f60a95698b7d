import { requireStudy } from "~/app/study-access.server";
import { lastFired } from "~/server/results/fired";
import type { Route } from "./+types/study-fired";

/** How often each rule did something in the last rehearsal. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code, "see-design");
  return Response.json(await lastFired(context.store, study));
}
