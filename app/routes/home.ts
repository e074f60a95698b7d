import { redirect } from "react-router";
import { requireAccount } from "~/app/account.server";
import type { Route } from "./+types/home";

export async function loader({ request, context }: Route.LoaderArgs) {
  await requireAccount(request, context);
  return redirect("/studies");
}
