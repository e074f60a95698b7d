import { redirect } from "react-router";
import { secretOf, signedOutCookie } from "~/app/account.server";
import { signOut } from "~/server/sign-ins";
import type { Route } from "./+types/sign-out";

export async function action({ request, context }: Route.ActionArgs) {
  const secret = secretOf(request);
  if (secret) await signOut(context.store, secret);
  return redirect("/sign-in", { headers: { "Set-Cookie": signedOutCookie() } });
}
export const loader = () => redirect("/studies");
