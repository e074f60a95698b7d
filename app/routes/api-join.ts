import * as yup from "yup";
import { parameters } from "~/app/parameters.server";
import { startSession } from "~/server/sessions";
import type { Route } from "./+types/api-join";

const schema = yup.object({ secret: yup.string().required(), parameters: parameters.optional() });

/** Starts a session under the secret the player has made up; the same secret again gives the same session. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const sent = await request
    .json()
    .then((body) => schema.validate(body, { strict: true }))
    .catch(() => null);
  if (!sent) return Response.json({ reason: "Send a secret for the session." }, { status: 400 });
  const browser = request.headers.get("User-Agent") ?? "";
  const started = await startSession(context.store, params.token, sent.secret, browser, sent.parameters);
  return started.ok ? Response.json(started.session) : Response.json({ reason: started.reason }, { status: 404 });
}
