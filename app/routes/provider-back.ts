import { redirect } from "react-router";
import { keptCookieOf, keptSecretOf, originOf, signedInCookie, signingIn } from "~/app/account.server";
import { signInProvided } from "~/server/provided";
import type { Route } from "./+types/provider-back";

/** Where the provider sends a browser back: signs in whom it tells of. */
export async function loader({ request, context }: Route.LoaderArgs) {
  const { provider, store } = context;
  const kept = keptSecretOf(request);
  if (!provider || kept === null) return redirect("/sign-in?provider=anew");
  const { pathname, search } = new URL(request.url);
  const told = await provider
    .end(new URL(pathname + search, originOf(request, context)), kept)
    .catch((error: unknown) => {
      console.error(`A sign-in by the provider failed: ${error instanceof Error ? error.message : ""}`);
      return null;
    });
  const gone = keptCookieOf(request, "");
  if (!told) return redirect("/sign-in?provider=anew", { headers: { "Set-Cookie": gone } });
  const result = await signInProvided(store, told, signingIn(request, context));
  const headers = new Headers();
  headers.append("Set-Cookie", gone);
  if (!result.ok) return redirect(`/sign-in?provider=${result.why}`, { headers });
  headers.append("Set-Cookie", signedInCookie(request, result.secret));
  return redirect("/studies", { headers });
}
