import { redirect } from "react-router";
import { keptCookieOf, originOf } from "~/app/account.server";
import type { Route } from "./+types/provider";

/** Sends the browser to the provider, to sign in there. */
export async function loader({ request, context }: Route.LoaderArgs) {
  const { provider } = context;
  if (!provider) return redirect("/sign-in");
  const begun = await provider.begin(`${originOf(request, context)}/sign-in/provider/back`).catch((error: unknown) => {
    console.error(`The provider of sign-ins cannot be reached: ${error instanceof Error ? error.message : ""}`);
    return null;
  });
  if (!begun) return redirect("/sign-in?provider=away");
  return redirect(begun.address, { headers: { "Set-Cookie": keptCookieOf(request, begun.kept) } });
}
