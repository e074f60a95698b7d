import { Clipboard, Download } from "lucide-react";
import { useState, type ReactNode } from "react";
import { data, Link, useFetcher } from "react-router";
import * as yup from "yup";
import { refuseUnless, requireStudy } from "~/app/study-access.server";
import { Button, buttonClass } from "~/app/components/button";
import { copyText } from "~/app/components/copy-text";
import { When } from "~/app/components/dates";
import { Dialog } from "~/app/components/dialog";
import { NumberField, Tick } from "~/app/components/fields";
import { useStudy } from "~/app/editing/use-study";
import { readJson } from "~/app/form.server";
import { setParticipation } from "~/core/design/edits/study";
import { mayDo } from "~/core/rights/rights";
import { keepingHeading, privacyForEthics, privacyOf } from "~/core/describe/privacy";
import { deleteParticipant, deleteSession, findParticipant, type FoundParticipant } from "~/server/forgetting";
import { isPilotSession } from "~/server/session-view";
import { deedsIn } from "~/server/study-log";
import { whatLinksAdd } from "~/server/link-sets";
import { actionOrAway, unlessAway } from "~/app/when-away";
import type { Route } from "./+types/privacy";

/**
 * Whose data are looked at (`who=`, a participant's number, or a session's name where there is none), and what was removed so far. Codes are not asked for by an
 * address, which may stand in logs that nobody can change.
 */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code, "open-study");
  const mayKeep = mayDo(study.roles, "keep-data");
  const asked = new URL(request.url).searchParams.get("who") ?? "";
  const who = /^(?:\d{1,7}|s-[a-z0-9]{1,20})$/.test(asked) ? asked : "";
  return {
    who: mayKeep ? who : "",
    mayKeep,
    found: who === "" || !mayKeep ? null : await findParticipant(context.store, study.id, who),
    deeds: study.isGuest ? [] : await deedsIn(context.store, study, { kind: "removed" }),
    ofLinks: await whatLinksAdd(context.store, study.id),
  };
}

const asking = yup
  .object({
    who: yup.string().max(100),
    participant: yup.number().integer().min(1),
    session: yup.string().max(100),
  })
  .noUnknown();
const answer = (done: "deleted" | "gone" | "nothing" | "looked", found: FoundParticipant | null = null) => ({
  done,
  found,
});

/** Finds a participant by code or number, deletes one with all sittings, or deletes one session. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = await requireStudy(request, context, params.code, "keep-data", "rehearse");
  const sent = await readJson(request, asking);
  // Those who rehearse delete what came of it; everything else is for who looks after participants' data.
  const isPilot = sent?.session !== undefined && (await isPilotSession(context.store, study.id, sent.session));
  refuseUnless(study.roles, [isPilot ? "rehearse" : "keep-data"]);
  if (sent?.who !== undefined) return answer("looked", await findParticipant(context.store, study.id, sent.who));
  if (sent?.session !== undefined)
    return answer((await deleteSession(context.store, study, sent.session, { by: study.by })) ? "deleted" : "gone");
  if (sent?.participant === undefined) return data(answer("nothing"), { status: 400 });
  const count = await deleteParticipant(context.store, study, sent.participant, { by: study.by });
  return answer(count > 0 ? "deleted" : "gone");
}

export const clientAction = actionOrAway;
export const shouldRevalidate = unlessAway;

const saidOf = { deleted: "Deleted.", gone: "It was gone already.", nothing: "That could not be read." } as const;

export default function Privacy({ loaderData: { who, mayKeep, found: named, deeds, ofLinks } }: Route.ComponentProps) {
  const asking = useFetcher<typeof action>();
  const ask: Ask = (about) => void asking.submit(about, { method: "post", encType: "application/json" });
  const { data: answered } = asking;
  const found = answered ? answered.found : named;
  const said = !answered
    ? who !== "" && !named
      ? "Nobody in this study has this number."
      : null
    : answered.done !== "looked"
      ? saidOf[answered.done]
      : answered.found
        ? null
        : "Nobody in this study has this code or number.";
  const { document } = useStudy();
  const ethics = privacyForEthics(document, ofLinks);
  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto grid max-w-[1112px] grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-10 px-5 py-6 small:grid-cols-1">
        <div className="grid content-start gap-5">
          <header>
            <Link to="../collect" className="text-sm font-semibold text-plumage hover:underline">
              Back to Collect
            </Link>
            <h1 className="font-serif text-[26px] leading-8">Participants’ data</h1>
            <p className="text-muted">What this study keeps of those who take part, by its present settings.</p>
          </header>
          {privacyOf(document, ofLinks).map(({ heading, sentences }) => (
            <section key={heading}>
              <h2 className="font-semibold">{heading}</h2>
              <ul className="list-disc pl-5">
                {sentences.map((sentence) => (
                  <li key={sentence}>{sentence}</li>
                ))}
              </ul>
              {heading === keepingHeading && <HowLong />}
            </section>
          ))}
          <section>
            <div className="flex items-center">
              <h2 className="font-semibold">For an ethics form</h2>
              <Button
                icon={Clipboard}
                look="quiet"
                className="ml-auto !text-plumage"
                onClick={() =>
                  copyText(ethics, "The text is copied.", "The browser blocked copying. Select the text and copy it.")
                }
              >
                Copy
              </Button>
            </div>
            <p className="font-serif text-[15.5px] leading-6">{ethics}</p>
          </section>
        </div>
        <div className="grid content-start gap-6">
          {mayKeep && (
            <section aria-labelledby="one">
              <h2 id="one" className="font-serif text-[20px]">
                One participant
              </h2>
              <asking.Form
                className="mt-2 flex gap-2"
                onSubmit={(event) => {
                  event.preventDefault();
                  const said = new FormData(event.currentTarget).get("who");
                  if (typeof said === "string" && said.trim() !== "") ask({ who: said.trim() });
                }}
              >
                <input
                  name="who"
                  defaultValue={who}
                  aria-label="Code, number or link of a participant"
                  placeholder="their code, number or link"
                  className="field !w-[260px]"
                  maxLength={100}
                />
                <Button type="submit">Find</Button>
              </asking.Form>
              <p className="mt-1 text-xs text-muted">
                A code they chose, or one they were given (at the end, for going on, or on leaving); their number; or
                the name of a link of their own.
              </p>
              {said !== null && (
                <p role="status" className="mt-2 text-muted">
                  {said}
                </p>
              )}
              {found && <Participant found={found} ask={ask} />}
            </section>
          )}
          <section aria-labelledby="removed">
            <h2 id="removed" className="font-serif text-[20px]">
              What was removed
            </h2>
            {deeds.length === 0 ? (
              <p className="mt-1 text-muted">Nothing yet.</p>
            ) : (
              <ul className="mt-1 grid gap-1 text-sm">
                {deeds.map((deed, index) => (
                  <li key={index} className="border-b border-hairline pb-1">
                    {deed.what}{" "}
                    <span className="text-muted">
                      <When iso={deed.at} form="moment" />, by {deed.by}
                    </span>
                  </li>
                ))}
              </ul>
            )}
          </section>
        </div>
      </div>
    </div>
  );
}

type About = { who: string } | { participant: number } | { session: string };
type Ask = (about: About) => void;

function Participant({ found: { participant, code: ownCode, sittings }, ask }: { found: FoundParticipant; ask: Ask }) {
  const { code } = useStudy();
  const [asked, setAsked] = useState<{ what: string; about: About } | null>(null);
  const remove = () => {
    if (asked) ask(asked.about);
    setAsked(null);
  };
  const name = participant === null ? "Somebody without a number" : `Participant ${participant}`;
  const all = sittings.length === 1 ? "the one sitting" : `all ${sittings.length} sittings`;
  return (
    <div className="mt-3 rounded-md border border-hairline bg-sheet p-3" data-participant-data={participant ?? ""}>
      <h3 className="font-semibold">
        {name}
        {ownCode !== null && <span className="ml-2 font-mono text-sm font-normal">{ownCode}</span>}
      </h3>
      <ul className="mt-2 grid gap-2 text-sm">
        {sittings.map((each) => (
          <li key={each.id} className="grid grid-cols-[1fr_auto] gap-2 border-t border-hairline pt-2">
            <span>
              <Line says={`Sitting ${each.sitting}`}>
                {each.state === "active" ? "not finished" : each.state}
                {each.counts ? "" : ", does not count"}
              </Line>
              <Line says="Began">
                <When iso={each.startedAt} form="moment" />
              </Line>
              <Line says="Last seen">
                <When iso={each.seenAt} form="moment" />
              </Line>
              <Line says="Stored">
                {each.records} records, {each.trials} of them trials
              </Line>
              <Line says="Browser">{each.browser || "removed"}</Line>
            </span>
            <Button
              look="quiet"
              onClick={() =>
                setAsked({
                  what: participant === null ? "this session" : `sitting ${each.sitting} of participant ${participant}`,
                  about: { session: each.id },
                })
              }
            >
              Delete
            </Button>
          </li>
        ))}
      </ul>
      <div className="mt-3 flex flex-wrap gap-2 border-t border-hairline pt-3">
        <a className={buttonClass()} href={`/studies/${code}/participants/${participant ?? sittings[0]?.id ?? ""}`}>
          <Download size={16} aria-hidden="true" />
          Their data as a file
        </a>
        {participant !== null && (
          <Button
            look="alarm"
            onClick={() => setAsked({ what: `${all} of participant ${participant}`, about: { participant } })}
          >
            Delete this participant
          </Button>
        )}
      </div>
      <Dialog
        open={asked !== null}
        onOpenChange={(open) => !open && setAsked(null)}
        title={`Delete ${asked?.what ?? ""}?`}
        description="Answers, times, code, browser and log are removed for good, and cannot be brought back. That it was done is written down."
      >
        <div className="flex justify-end gap-2">
          <Button onClick={() => setAsked(null)}>Keep it</Button>
          <Button look="alarm" onClick={remove}>
            Delete for good
          </Button>
        </div>
      </Dialog>
    </div>
  );
}

const Line = ({ says, children }: { says: string; children: ReactNode }) => (
  <span className="grid grid-cols-[88px_minmax(0,1fr)]">
    <span className="text-muted">{says}</span>
    <span className="[overflow-wrap:anywhere]">{children}</span>
  </span>
);

/** How long what names participants, and what they answered, is kept. */
function HowLong() {
  const { document, edit } = useStudy();
  const { namesKeptDays, answersKeptYears } = document.settings.participation;
  return (
    <div className="mt-2 grid gap-2 rounded-md border border-hairline bg-sheet p-3">
      <KeptFor
        says="Remove codes and browser names some time after a wave"
        unit="days"
        fresh={30}
        value={namesKeptDays}
        onChange={(days) => edit(setParticipation({ namesKeptDays: days }), "namesKeptDays")}
      />
      <KeptFor
        says="Delete sessions with all answers some years after a wave"
        unit="years"
        fresh={10}
        value={answersKeptYears}
        onChange={(years) => edit(setParticipation({ answersKeptYears: years }), "answersKeptYears")}
      />
    </div>
  );
}

/** A time after which something is removed; `fresh` is offered first, undefined means never. */
function KeptFor({
  says,
  unit,
  fresh,
  value,
  onChange,
}: {
  says: string;
  unit: "days" | "years";
  fresh: number;
  value: number | undefined;
  onChange: (value: number | undefined) => void;
}) {
  return (
    <>
      <Tick checked={value !== undefined} onChange={(on) => onChange(on ? fresh : undefined)}>
        {says}
      </Tick>
      {value !== undefined && (
        <div className="mb-1 flex items-baseline gap-2">
          <span className="flex w-28">
            <NumberField
              label={`${unit.replace(/^./, (letter) => letter.toUpperCase())} after the wave`}
              whole
              least={1}
              suffix={unit}
              value={value}
              onChange={onChange}
            />
          </span>
          <span className="text-sm text-muted">
            after the wave was closed, or its last session. The server looks daily.
          </span>
        </div>
      )}
    </>
  );
}
