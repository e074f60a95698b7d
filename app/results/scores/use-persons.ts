import { useFetcher } from "react-router";
import { useStudy } from "~/app/editing/use-study";
import type { PersonsChange } from "~/core/persons/change";

/** What changes a study’s scores and norm samples, and what the server said of it. */
export function usePersons() {
  const { code } = useStudy();
  const fetcher = useFetcher<{ id?: string; reason?: string }>();
  const send = (change: PersonsChange) =>
    void fetcher.submit(JSON.stringify(change), {
      ...{ method: "post", action: `/studies/${code}/scores`, encType: "application/json" },
    });
  return { fetcher, send, isBusy: fetcher.state !== "idle", reason: fetcher.data?.reason };
}
