import { useState } from "react";
import { data, Link, useFetcher, useNavigate, type ShouldRevalidateFunctionArgs } from "react-router";
import { requireStudy } from "~/app/study-access.server";
import { useDone } from "~/app/components/use-done";
import { CourseFigure } from "~/app/collect/course-figure";
import { ShownAgain } from "~/app/collect/shown-again";
import { Button } from "~/app/components/button";
import { When } from "~/app/components/dates";
import { Dialog } from "~/app/components/dialog";
import { useStudy } from "~/app/editing/use-study";
import { mayDo } from "~/core/rights/rights";
import { hasPlace } from "~/core/order/place";
import { sessionView, whoseSession, type SessionView } from "~/server/session-view";
import { noteLook } from "~/server/study-log";
import { unlessAway } from "~/app/when-away";
import type { Route } from "./+types/session";

const asJson = { method: "post", encType: "application/json" } as const;

/** One session: its course in time, what was answered, and what the team noted. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code, "see-sessions");
  const view = await sessionView(context.store, study.id, params.session);
  if (!view) throw data(null, { status: 404 });
  const who = await whoseSession(context.store.db, params.session);
  await noteLook(context.store.db, { code: study.code, by: study.by, what: `${who} was looked at.` });
  // What somebody answered is a result.
  return { view: mayDo(study.roles, "see-results") ? view : { ...view, answered: null } };
}

/** A session that was just deleted is not asked for again: the page is left. */
export const shouldRevalidate = (asked: ShouldRevalidateFunctionArgs): boolean =>
  asked.formAction?.endsWith("/privacy") ? false : unlessAway(asked);

export default function Session({ loaderData: { view } }: Route.ComponentProps) {
  const { line, groupName, wave, link, browser, course, answered } = view;
  const { may } = useStudy();
  const facts = [
    line.sitting > 1 ? `sitting ${line.sitting}` : "",
    groupName && `group ${groupName}`,
    wave && `in ${wave}`,
    link && `by ${link}`,
    line.release === null ? "" : `release ${line.release}`,
    browser,
  ].filter((each) => each !== "");
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_320px] small:h-auto small:grid-cols-1">
      <div className="min-w-0 overflow-auto p-5">
        <p className="text-sm">
          <Link to="../collect" relative="route" className="text-plumage hover:underline">
            ← Collect
          </Link>
        </p>
        <h1 className="mt-1 font-serif text-[22px]">
          {line.pilot ? "Pilot" : hasPlace(line) ? `Participant ${line.participant}` : "Somebody without a number"}
          <span className="ml-3 font-sans text-sm text-muted">
            {line.state === "active" ? "taking part now" : line.state.replace("-", " ")}
          </span>
        </h1>
        <p className="text-sm text-muted">
          Begun <When iso={line.startedAt} />, last seen <When iso={line.seenAt} />
          {facts.map((fact) => `, ${fact}`)}.
        </p>
        <CourseFigure course={course} />
        {may("see-results") && course.spans.length > 0 && <ShownAgain key={line.id} session={line.id} />}
        {answered && <Answers answered={answered} />}
      </div>
      <aside
        aria-label="About this session"
        className="overflow-auto border-l border-hairline p-4 small:border-l-0 small:border-t"
      >
        <Notes line={line} notes={view.notes} />
        {may("leave-out") && <Counting line={line} because={view.because} />}
        {!line.pilot && may("keep-data") && <Keeping line={line} />}
      </aside>
    </div>
  );
}

function Answers({ answered }: { answered: SessionView["answered"] }) {
  if (answered.length === 0) return <p className="mt-4 text-muted">Nothing was answered yet.</p>;
  return (
    <table className="mt-4 w-full border border-hairline bg-sheet text-left text-sm" aria-label="What was answered">
      <thead>
        <tr className="h-7 border-b border-hairline text-xs text-muted">
          {["time", "part", "", "answer", "value", "ms", "right"].map((head, index) => (
            <th key={index} scope="col" className={`px-2 font-semibold ${head === "ms" ? "text-right" : ""}`}>
              {head || <span className="sr-only">trial or page</span>}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {answered.flatMap(({ number, at, part, what, answers }) =>
          answers.map(({ name, value, rt, right }, index) => (
            <tr key={`${number} ${index}`} className="h-[26px] border-b border-hairline last:border-b-0">
              <td className="px-2 font-mono text-xs text-muted">{index === 0 && clockOf(at)}</td>
              <td className="px-2">{index === 0 && part}</td>
              <td className="px-2 text-muted">{index === 0 && what}</td>
              <td className="px-2 font-mono text-xs">{name}</td>
              <td className="max-w-[360px] px-2 font-mono text-xs [overflow-wrap:anywhere]">{value}</td>
              <td className="px-2 text-right font-mono text-xs">{rt === null ? "" : rt.toFixed(1)}</td>
              <td className={`px-2 ${right === false ? "text-chestnut" : ""}`}>
                {right === null ? "" : right ? "right" : "wrong"}
              </td>
            </tr>
          )),
        )}
      </tbody>
    </table>
  );
}

/** Session time as minutes and seconds. */
const clockOf = (ms: number): string =>
  `${Math.floor(ms / 60_000)}:${String(Math.floor((ms / 1000) % 60)).padStart(2, "0")}`;

function Notes({ line, notes }: Pick<SessionView, "line" | "notes">) {
  const { code } = useStudy();
  const noting = useFetcher<{ reason?: string }>();
  const [text, setText] = useState("");
  const add = () => {
    if (text.trim() === "") return;
    void noting.submit({ do: "add-note", session: line.id, text }, { ...asJson, action: `/studies/${code}/collect` });
  };
  useDone(noting, () => setText(""));
  return (
    <section aria-label="Notes of the team">
      <h2 className="text-xs font-semibold text-muted">Notes of the team</h2>
      {notes.map(({ id, at, by, text: said }) => (
        <p key={id} className="mt-2 whitespace-pre-wrap text-sm [overflow-wrap:anywhere]">
          {said}
          <span className="block text-xs text-muted">
            {by}, <When iso={at} />
          </span>
        </p>
      ))}
      <textarea
        aria-label="A note"
        rows={2}
        maxLength={4000}
        value={text}
        onChange={({ target }) => setText(target.value)}
        className="field mt-2 !h-auto py-1"
      />
      <div className="mt-1 flex justify-end">
        <Button disabled={noting.state !== "idle"} onClick={add}>
          Add the note
        </Button>
      </div>
      {noting.data?.reason && (
        <p role="alert" className="text-sm text-alarm">
          {noting.data.reason}
        </p>
      )}
    </section>
  );
}

function Counting({ line, because }: Pick<SessionView, "line" | "because">) {
  const { code } = useStudy();
  const excluding = useFetcher();
  const [reason, setReason] = useState("");
  const set = (excluded: boolean) =>
    void excluding.submit(
      { do: "exclude", session: line.id, excluded, ...(excluded ? { because: reason } : {}) },
      { ...asJson, action: `/studies/${code}/collect` },
    );
  if (line.pilot) return null;
  return (
    <section aria-label="Whether it counts" className="mt-5 border-t border-hairline pt-3">
      <h2 className="text-xs font-semibold text-muted">Whether it counts</h2>
      {line.excluded ? (
        <>
          <p className="mt-1 text-sm">Does not count{because === null ? ". No reason was given." : `: ${because}`}</p>
          <div className="mt-2 flex justify-end">
            <Button disabled={excluding.state !== "idle"} onClick={() => set(false)}>
              Count it again
            </Button>
          </div>
        </>
      ) : (
        <>
          <input
            aria-label="Why it should not count"
            placeholder="Why it should not count"
            maxLength={1000}
            value={reason}
            onChange={({ target }) => setReason(target.value)}
            className="field mt-1"
          />
          <div className="mt-1 flex justify-end">
            <Button disabled={reason.trim() === "" || excluding.state !== "idle"} onClick={() => set(true)}>
              Do not count it
            </Button>
          </div>
          <p className="text-xs text-muted">Its records stay, and are exported with counts = no and the reason.</p>
        </>
      )}
    </section>
  );
}

function Keeping({ line }: Pick<SessionView, "line">) {
  const { code } = useStudy();
  const removing = useFetcher<{ reason?: string }>();
  const navigate = useNavigate();
  const [isAsked, setAsked] = useState(false);
  const remove = () => void removing.submit({ session: line.id }, { ...asJson, action: `/studies/${code}/privacy` });
  useDone(removing, () => void navigate(`/studies/${code}/collect`));
  return (
    <section aria-label="What is kept" className="mt-5 border-t border-hairline pt-3">
      <h2 className="text-xs font-semibold text-muted">What is kept</h2>
      <p className="mt-1 text-sm">
        <Link
          to={`/studies/${code}/privacy?who=${hasPlace(line) ? line.participant : line.id}`}
          className="text-plumage hover:underline"
        >
          All that is kept of this participant
        </Link>
      </p>
      <div className="mt-2 flex justify-end">
        <Button look="alarm" onClick={() => setAsked(true)}>
          Withdraw: delete this session
        </Button>
      </div>
      <Dialog
        open={isAsked}
        onOpenChange={setAsked}
        title="Delete this session for good?"
        description="Answers, times, code, browser, log and notes are removed, and cannot be brought back. That it was done is written down."
      >
        <div className="flex justify-end gap-2">
          <Button onClick={() => setAsked(false)}>Keep it</Button>
          <Button look="alarm" disabled={removing.state !== "idle"} onClick={remove}>
            Delete for good
          </Button>
        </div>
      </Dialog>
    </section>
  );
}
