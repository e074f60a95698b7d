import * as yup from "yup";
import { requireAccount } from "~/app/account.server";
import { requireStudy } from "~/app/study-access.server";
import { readJson } from "~/app/form.server";
import { mayDo } from "~/core/rights/rights";
import type { Patch } from "~/core/design/edits/edit";
import { documentAt, saveEdit, standingIn } from "~/server/studies";
import type { Route } from "./+types/study-edits";

const patches = () =>
  yup
    .array(
      yup.object({
        op: yup.string().oneOf(["add", "remove", "replace"]).required(),
        path: yup.array(yup.mixed().required()).required(),
        value: yup.mixed().nullable(),
      }),
    )
    .required();
const schema = yup.object({ base: yup.number().integer().required(), patches: patches(), inverse: patches() });

/** Takes patches made on a revision; 409 with the newer version where the study has moved on, 422 where the result is no valid study. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = await requireStudy(request, context, params.code, "change-design");
  const sent = await readJson(request, schema);
  if (!sent)
    return Response.json({ mistakes: ["The change could not be read. Load the page again."] }, { status: 400 });
  const saved = await saveEdit(context.store, study.id, sent.base, sent.patches as Patch[], sent.inverse as Patch[]);
  if (saved.ok) return Response.json(saved);
  return saved.kind === "newer" ? Response.json(saved, { status: 409 }) : Response.json(saved, { status: 422 });
}

/**
 * What a tab asks that may have fallen behind: with `since` the newer version, or 204 where there is none; with `at` the
 * study as it was at a revision.
 */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const asked = new URL(request.url).searchParams;
  const since = asked.get("since");
  const at = asked.get("at");
  if (since !== null) {
    const account = await requireAccount(request, context);
    const stands = await standingIn(context.store, account.id, params.code);
    if (stands && mayDo(stands.roles, "open-study") && stands.revision === Number(since))
      return new Response(null, { status: 204 });
  }
  const study = await requireStudy(request, context, params.code, at === null ? "open-study" : "see-design");
  const document = at === null ? study.document : await documentAt(context.store, study, Number(at));
  return document
    ? Response.json({ revision: at === null ? study.revision : Number(at), document })
    : Response.json({ reason: "That version cannot be restored." }, { status: 404 });
}
