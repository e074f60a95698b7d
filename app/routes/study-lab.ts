import { data } from "react-router";
import * as yup from "yup";
import { requireLaboratory } from "~/app/study-access.server";
import { readJson } from "~/app/form.server";
import { parameters } from "~/server/http/parameters";
import { labList } from "~/server/laboratory";
import { addNote } from "~/server/session-view";
import { startInLab } from "~/server/sessions";
import { actionOrAway } from "~/app/when-away";
import type { Route } from "./+types/study-lab";

/** The laboratory's list as it stands just now: who is next, who is due, who was here. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { study, computer, seesGroups } = await requireLaboratory(request, context, params.code);
  if (computer?.isLocked) return Response.json({ reason: locked }, { status: 403 });
  const wave = new URL(request.url).searchParams.get("wave");
  return Response.json(await labList(context.store, { id: study.id, title: study.document.title }, wave, seesGroups));
}

const starting = yup.object({
  wave: yup.string().required(),
  participant: yup.number().integer().min(1).max(9_999_999).nullable().defined(),
  group: yup.string().nullable().defined(),
  parameters: parameters.required(),
});
const noting = yup.object({
  session: yup.string().max(100).required(),
  note: yup.string().min(1).max(4000).required(),
});
const locked = "The list is closed. Type the assistant’s key first.";

/** Starts a session at this computer, and gives the secret by which it is played; or keeps a note with a session. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const { study, computer, name, seesGroups } = await requireLaboratory(request, context, params.code);
  const refused = (reason: string, status = 422) => data({ reason }, { status });
  if (computer?.isLocked) return refused(locked, 403);
  const sent = await readJson(request, yup.object());
  if (noting.isValidSync(sent, { strict: true })) {
    const reason = await addNote(context.store, study.id, sent.session, { by: name, text: sent.note.trim() });
    return reason === null ? { noted: true as const } : refused(reason);
  }
  if (!starting.isValidSync(sent, { strict: true }))
    return refused("Give the wave, and a participant's number or none.", 400);
  const browser = request.headers.get("User-Agent") ?? "";
  const { wave, ...asked } = sent as yup.InferType<typeof starting> & { parameters: Record<string, string> };
  // Who does not see the groups does not choose one either.
  const group = seesGroups ? asked.group : null;
  const started = await startInLab(context.store, study.id, wave, { ...asked, group }, browser, computer?.id ?? null);
  return started.ok ? { secret: started.secret } : refused(started.reason);
}

export const clientAction = actionOrAway;
