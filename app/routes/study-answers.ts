import { data } from "react-router";
import { requireStudy } from "~/app/account.server";
import { takeInSaved } from "~/server/records";
import type { Route } from "./+types/study-answers";

const mostBytes = 50_000_000;

/** Takes in a file of answers that a participant saved because the server stayed away. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = await requireStudy(request, context, params.code);
  if (Number(request.headers.get("Content-Length") ?? 0) > mostBytes)
    return data(
      { ok: false as const, reason: "The file is larger than 50 MB, so it is no file of answers." },
      { status: 413 },
    );
  const file = (await request.formData()).get("file");
  const saved: unknown =
    file instanceof File
      ? await file
          .text()
          .then(JSON.parse)
          .catch(() => null)
      : null;
  const taken = await takeInSaved(context.store, saved, study.id);
  return taken.ok ? taken : data({ ok: false as const, reason: taken.reason }, { status: 422 });
}
