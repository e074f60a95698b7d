import { useEffect, useState } from "react";
import { useLocation } from "react-router";
import { requireStudy } from "~/app/study-access.server";
import { Plain } from "~/app/components/plain-page";
import { isTabTold, tabChannel } from "~/app/rehearse/in-tab";
import type { Route } from "./+types/rehearsal-opens";

export async function loader({ request, context, params }: Route.LoaderArgs) {
  await requireStudy(request, context, params.code, "rehearse");
  return null;
}

/** The window in which a rehearsal will be played: it waits until Rehearse has begun it, and goes there. */
export default function RehearsalOpens() {
  const name = useLocation().hash.slice(1);
  const [trouble, setTrouble] = useState<string | null>(null);
  useEffect(() => {
    const channel = tabChannel(name);
    channel.onmessage = ({ data }: MessageEvent<unknown>) => {
      if (!isTabTold(data)) return;
      if ("address" in data) location.replace(data.address);
      else setTrouble(data.trouble);
    };
    channel.postMessage("here");
    return () => channel.close();
  }, [name]);
  return (
    <Plain title="Rehearsal">
      {trouble === null ? (
        <p>The rehearsal is about to begin. If nothing happens, close this window and play it again from Rehearse.</p>
      ) : (
        <p role="alert" className="text-alarm">
          {trouble}
        </p>
      )}
    </Plain>
  );
}
