import { data, redirect } from "react-router";
import { readerCookieOf } from "~/app/account.server";
import { studyOfReader } from "~/server/reader-link";
import type { Route } from "./+types/reading";

/** A reading link: this browser can see the design from now on, for as long as its owner says so. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await studyOfReader(context.store, params.secret);
  if (!study) throw data(null, { status: 404 });
  return redirect(`/studies/${study.code}/plan`, {
    headers: { "Set-Cookie": readerCookieOf(request, params.secret) },
  });
}
