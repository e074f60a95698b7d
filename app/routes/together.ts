import * as yup from "yup";
import { requireStanding } from "~/app/study-access.server";
import { readJson } from "~/app/form.server";
import { aboutShape, type About } from "~/core/describe/about";
import { addComment, commentsOn, openComments, resolveComment } from "~/server/comments";
import { leave, present } from "~/server/presence";
import type { Route } from "./+types/together";

/** The comments on a design. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStanding(request, context, params.code, "see-design");
  return Response.json(await commentsOn(context.store, study.id, study.account.id));
}

const id = yup.string().max(100);
const here = yup.object({
  window: yup.string().min(8).max(60).required(),
  section: yup.string().max(40).defined(),
  part: id.nullable().defined(),
  leaves: yup.boolean(),
});
const saying = yup.object({
  about: aboutShape.required(),
  answers: id.nullable().defined(),
  text: yup.string().trim().min(1).max(4000).required(),
});
const resolving = yup.object({ comment: id.required(), resolved: yup.boolean().required() });

/** Says where a window is, and who else is here; or says something of the design, answers it, or says it is settled. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = await requireStanding(request, context, params.code, "see-design");
  const { store } = context;
  const { account } = study;
  const sent = await readJson(request, yup.object());
  if (here.isValidSync(sent, { strict: true })) {
    const { window, section, part } = sent;
    const own = `${account.id} ${window}`;
    if (sent.leaves === true) {
      leave(study.id, own);
      return Response.json({});
    }
    const others = present(study.id, own, { account: account.id, name: account.name, section, part });
    return Response.json({ others, open: await openComments(store, study.id) });
  }
  if (resolving.isValidSync(sent, { strict: true })) {
    await resolveComment(store, study.id, sent.comment, sent.resolved ? account.name : null);
    return Response.json(await commentsOn(store, study.id, account.id));
  }
  if (!saying.isValidSync(sent, { strict: true }))
    return Response.json(
      { reason: "This cannot be read. Say something of at most 4,000 characters." },
      { status: 400 },
    );
  const { about, answers, text } = sent as { about: About; answers: string | null; text: string };
  const refused = await addComment(store, study.id, { account: account.id, about, answers, text });
  return refused === null
    ? Response.json(await commentsOn(store, study.id, account.id))
    : Response.json({ reason: refused }, { status: 422 });
}
