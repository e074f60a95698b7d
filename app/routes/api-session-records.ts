import { bearerOf } from "~/app/bearer.server";
import { appendRecords } from "~/server/records";
import type { Route } from "./+types/api-session-records";

const mostBytes = 2_000_000;

export async function action({ request, context }: Route.ActionArgs) {
  if (Number(request.headers.get("Content-Length") ?? 0) > mostBytes)
    return Response.json({ reason: "Too much at once. Send fewer records." }, { status: 413 });
  const sent: unknown = await request.json().catch(() => null);
  const appended = await appendRecords(context.store, bearerOf(request), sent);
  return appended.ok ? Response.json(appended) : Response.json({ reason: appended.reason }, { status: 400 });
}
