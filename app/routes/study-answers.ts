import { readFile } from "node:fs/promises";
import { data } from "react-router";
import { requireStudy } from "~/app/study-access.server";
import { withFile } from "~/server/http/receive";
import { takeInSaved } from "~/server/records";
import { actionOrAway } from "~/app/when-away";
import type { Route } from "./+types/study-answers";

/** Takes in a file of answers that a participant saved because the server stayed away. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = await requireStudy(request, context, params.code, "start-sessions");
  const taken = await withFile(request, context.store.media, async ({ path }) => {
    const saved: unknown = await readFile(path, "utf8")
      .then(JSON.parse)
      .catch(() => null);
    return takeInSaved(context.store, saved, study.id);
  });
  if (!taken) return data({ ok: false as const, reason: "No file was sent." }, { status: 400 });
  return taken.ok ? taken : data({ ok: false as const, reason: taken.reason }, { status: 422 });
}

export const clientAction = actionOrAway;
