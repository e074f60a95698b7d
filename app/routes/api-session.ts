import { bearerOf, noSession } from "~/app/bearer.server";
import { resumeSession } from "~/server/sessions";
import type { Route } from "./+types/api-session";

export async function loader({ request, context }: Route.LoaderArgs) {
  const session = await resumeSession(context.store, bearerOf(request));
  return session ? Response.json(session, { headers: { "Cache-Control": "no-store" } }) : noSession();
}
