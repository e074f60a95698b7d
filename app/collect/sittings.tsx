import { Copy } from "lucide-react";
import { useEffect, useState } from "react";
import { IconButton } from "~/app/components/button";
import { copyText } from "~/app/components/copy-text";
import { useStudy } from "~/app/editing/use-study";
import type { StudyDocument } from "~/core/design/document";
import { sittingNumbered } from "~/core/design/sittings";
import { sittingStates, type SittingState } from "~/core/order/sittings";
import { filledIn } from "~/core/wording/names";
import { localeOf } from "~/core/wording/wording";
import type { InSittings, SittingList } from "~/server/sittings";
import type { Wave } from "~/server/waves";

const inWords: Record<SittingState, string> = {
  overdue: "overdue",
  due: "due",
  waiting: "not due yet",
  "under-way": "under way",
  missed: "missed its days",
  done: "done",
};
/** Who is due for their next sitting, who is overdue, and who has done them all, with a reminder for each to copy. */
export function Sittings({
  wave,
  document,
  origin,
  token,
  finished,
}: {
  wave: Wave;
  document: StudyDocument;
  origin: string;
  /** The link that anyone can come by, for those without one of their own. */
  token: string | undefined;
  /** How many sessions are finished: when that changes the list is asked for anew. */
  finished: number;
}) {
  const { code } = useStudy();
  const [list, setList] = useState<SittingList | null>(null);
  useEffect(() => {
    const leaving = new AbortController();
    fetch(`/studies/${code}/sittings/${wave.id}`, { signal: leaving.signal })
      .then(async (response) => response.ok && setList((await response.json()) as SittingList))
      .catch(() => undefined);
    return () => leaving.abort();
  }, [code, wave.id, finished]);
  if (!list) return null;
  const { counts, listed } = list;
  const all = sittingStates.reduce((sum, state) => sum + counts[state], 0);
  const nextOf = ({ next }: InSittings) => (next === null ? undefined : sittingNumbered(document, next));
  const linkOf = ({ token: own, who }: InSittings) =>
    own !== null
      ? `${origin}/join/${own}`
      : `${origin}/join/${token ?? ""}${who === "" ? "" : `?participant=${encodeURIComponent(who)}`}`;
  const remind = (each: InSittings) =>
    copyText(
      filledIn(nextOf(each)?.reminder ?? "", {
        who: each.who || `participant ${each.participant}`,
        link: linkOf(each),
        from: each.due ? dayInWords(each.due.from, document.language) : "",
        until: each.due?.until ? dayInWords(each.due.until, document.language) : "",
      }),
      "The reminder is copied.",
      "The browser blocked copying.",
    );
  return (
    <section aria-label="Sittings" className="mt-2.5 rounded-md border border-hairline bg-sheet px-4 py-2.5">
      <h2 className="flex flex-wrap items-baseline gap-x-4">
        <b>Sittings</b>
        {sittingStates
          .filter((state) => counts[state] > 0)
          .map((state) => (
            <span key={state} className={`text-sm ${state === "overdue" ? "text-chestnut" : "text-muted"}`}>
              {counts[state]} {inWords[state]}
            </span>
          ))}
        {all === 0 && <span className="text-sm text-muted">No one has taken part yet.</span>}
      </h2>
      {listed.length > 0 && (
        <div className="mt-1.5 max-h-[30vh] overflow-auto">
          <table className="w-full text-left text-sm">
            <thead>
              <tr className="h-7 text-xs text-muted [&>th]:border-b [&>th]:border-hairline [&>th]:px-2">
                {["participant", "who", "done", "next", "days", "state"].map((head) => (
                  <th key={head} scope="col">
                    {head}
                  </th>
                ))}
                <th scope="col">
                  <span className="sr-only">reminder</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {listed.map((each) => (
                <tr
                  key={each.participant}
                  data-sitting-state={each.state}
                  className="h-[30px] border-b border-hairline [&>td]:px-2"
                >
                  <td className="font-mono text-xs">{each.participant}</td>
                  <td>{each.who || <span className="text-muted">no code: by number, in the laboratory</span>}</td>
                  <td>
                    {each.done} of {document.sittings.length}
                  </td>
                  <td>{nextOf(each)?.name}</td>
                  <td className="whitespace-nowrap text-muted">
                    {each.due && dayInWords(each.due.from, "en")}
                    {each.due?.until && ` to ${dayInWords(each.due.until, "en")}`}
                  </td>
                  <td className={each.state === "overdue" ? "text-chestnut" : each.state === "due" ? "" : "text-muted"}>
                    {inWords[each.state]}
                  </td>
                  <td className="text-right">
                    {each.who !== "" && nextOf(each)?.reminder.trim() && (
                      <IconButton
                        icon={Copy}
                        label={`Copy the reminder for participant ${each.participant}`}
                        onClick={() => remind(each)}
                      />
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {all > listed.length && (
        <p className="mt-1 text-sm text-muted">and {all - listed.length} more, who need nobody yet or no more</p>
      )}
    </section>
  );
}

/** A day in words. */
const dayInWords = (day: string, language: string): string =>
  new Intl.DateTimeFormat(localeOf(language), { day: "numeric", month: "long", timeZone: "UTC" }).format(new Date(day));
