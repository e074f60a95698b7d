import { participantPage } from "~/app/participant-page.server";
import type { Route } from "./+types/play";

/** The player for a rehearsal; the session's secret stands behind the # of the address and never reaches the server's log. */
export const loader = ({ context }: Route.LoaderArgs) =>
  participantPage(context.player, {
    title: "Rehearsal",
    language: "en",
    stageColor: "#eeeadf",
    textColor: "#17211e",
    join: "",
  });
