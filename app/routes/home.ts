import { redirect } from "react-router";
import { accountOf, computerOf, requireAccount } from "~/app/account.server";
import type { Route } from "./+types/home";

export async function loader({ request, context }: Route.LoaderArgs) {
  if ((await accountOf(request, context)) === null && (await computerOf(request, context)) !== null)
    return redirect("/laboratory");
  await requireAccount(request, context);
  return redirect("/studies");
}
