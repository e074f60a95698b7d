import { startSession } from "~/server/sessions";
import type { Route } from "./+types/api-join";

export async function action({ request, context, params }: Route.ActionArgs) {
  const started = await startSession(context.store, params.token, request.headers.get("User-Agent") ?? "");
  return started.ok ? Response.json(started) : Response.json({ reason: started.reason }, { status: 404 });
}
