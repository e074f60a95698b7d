import { data } from "react-router";
import * as yup from "yup";
import { parameters } from "~/server/http/parameters";
import { requireStudy } from "~/app/account.server";
import { readJson } from "~/app/form.server";
import { startInLab } from "~/server/sessions";
import type { Route } from "./+types/study-lab";

const schema = yup.object({
  wave: yup.string().required(),
  participant: yup.number().integer().min(1).max(9_999_999).nullable().defined(),
  group: yup.string().nullable().defined(),
  parameters: parameters.required(),
});

/** Starts a session at the experimenter's own computer; gives the secret by which it is played. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = await requireStudy(request, context, params.code);
  const sent = await readJson(request, schema);
  if (!sent) return data({ reason: "Give the wave, and a participant's number or none." }, { status: 400 });
  const browser = request.headers.get("User-Agent") ?? "";
  const { wave, ...asked } = sent;
  const started = await startInLab(context.store, study.id, wave, asked, browser);
  return started.ok ? { secret: started.secret } : data({ reason: started.reason }, { status: 422 });
}
