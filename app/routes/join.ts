import { participantPage } from "~/app/participant-page.server";
import { linkExists } from "~/server/sessions";
import type { Route } from "./+types/join";

export async function loader({ context, params }: Route.LoaderArgs) {
  const link = await linkExists(context.store, params.token);
  if (link) return participantPage(context.player, { ...link, join: params.token });
  const page = participantPage(context.player, {
    title: "No open study here",
    language: "en",
    stageColor: "#eeeadf",
    textColor: "#17211e",
    join: "",
  });
  return new Response(page.body, { status: 404, headers: page.headers });
}
