import { redirect } from "react-router";
import { signedInCookie, signingIn } from "~/app/account.server";
import { lookAround } from "~/server/accounts";
import type { Route } from "./+types/look-around";

/** Signs in to the demo account; only where there are demo data. */
export async function action({ request, context }: Route.ActionArgs) {
  const secret = context.isDemo ? await lookAround(context.store, signingIn(request, context)) : null;
  return secret
    ? redirect("/studies", { headers: { "Set-Cookie": signedInCookie(request, secret) } })
    : redirect("/sign-in");
}
export const loader = () => redirect("/sign-in");
