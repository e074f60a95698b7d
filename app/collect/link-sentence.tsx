import { useId, useState } from "react";
import { Sentence, SentenceChoice, SentenceMore, SentenceNumber, SentenceText } from "~/app/components/sentence";
import { LinkEnds } from "./link-ends";
import { LinkSuited } from "./link-suited";
import { hereZone, SpanChoice } from "./moment-field";
import { useChosen } from "./use-chosen";
import { suitedInWords } from "~/core/collect/suited";
import { asOftenAsTheyLike, type Terms, type WhyNot } from "~/core/collect/terms";
import type { StudyDocument } from "~/core/design/document";
import type { CodesLeft } from "~/server/ends";

/** What a link, or a set of links for one person each, asks of those who come by it: a sentence whose underlined words are choices. */
export function LinkSentence({
  of,
  asked,
  codes,
  document,
}: {
  of: { link: string } | { set: string };
  asked: Terms;
  codes: CodesLeft[string];
  /** The release that is run. */
  document: StudyDocument;
}) {
  const {
    value: terms,
    save,
    saveWhole,
    without,
    reason,
  } = useChosen(asked, (next) => ({
    ...("link" in of ? { do: "set-link", link: of.link } : { do: "set-links", set: of.set }),
    terms: next,
  }));
  const [opened, setOpened] = useState<Opened | null>(null);
  const [saysId, endsId, onId] = [useId(), useId(), useId()];
  const isSaying = opened === "says";
  const opens = (what: Opened) => () => setOpened(opened === what ? null : what);
  const { from, until, goOn, says, on } = terms;
  return (
    <div className="mt-2">
      <Sentence>
        {"set" in of ? (
          <PersonAndHowOften terms={terms} save={save} without={without} />
        ) : (
          <WhoAndHowOften terms={terms} saveWhole={saveWhole} />
        )}
        {", "}
        <SpanChoice
          from={from}
          until={until}
          setFrom={(moment) => (moment ? save({ from: moment }) : without("from"))}
          setUntil={(moment) => (moment ? save({ until: moment }) : without("until"))}
        />
        {", "}
        <HowMany terms={terms} saveWhole={saveWhole} document={document} />
        {", on "}
        <button
          type="button"
          aria-expanded={opened === "on"}
          aria-controls={onId}
          aria-label={`On what: ${suitedInWords(on ?? {})}`}
          onClick={opens("on")}
          className="underlined"
        >
          {suitedInWords(on ?? {})}
        </button>
        {", and may "}
        <SentenceChoice
          label="Going on"
          value={goOn.kind}
          options={[
            ["whenever", "go on whenever they like"],
            ["same-day", "go on the same day"],
            ["hours", "go on within some hours:"],
            ["never", "not go on once they have left"],
          ]}
          onChange={(kind) =>
            save({
              goOn:
                kind === "hours" ? { kind, hours: 24 } : kind === "same-day" ? { kind, zone: hereZone() } : { kind },
            })
          }
        />
        {goOn.kind === "hours" && (
          <>
            {" "}
            <SentenceNumber
              label="Hours after they began"
              value={goOn.hours}
              whole
              least={1}
              most={8760}
              onChange={(hours) => save({ goOn: { kind: "hours", hours } })}
            />
          </>
        )}
        {", "}
        <SentenceChoice
          label="How long a session may take"
          value={terms.longest === undefined ? "any" : "most"}
          options={[
            ["any", "with no limit to how long it takes"],
            ["most", "for no longer than so many minutes:"],
          ]}
          onChange={(kind) => (kind === "any" ? without("longest") : save({ longest: 120 }))}
        />
        {terms.longest !== undefined && (
          <>
            {" "}
            <SentenceNumber
              label="Minutes after they began"
              value={terms.longest}
              whole
              least={1}
              most={525_600}
              onChange={(longest) => save({ longest })}
            />
          </>
        )}
        .
        <SentenceMore isOpen={isSaying} opens={saysId} onClick={opens("says")}>
          What is said to those who cannot begin
        </SentenceMore>
        <SentenceMore isOpen={opened === "ends"} opens={endsId} onClick={opens("ends")}>
          What is shown at the end
        </SentenceMore>
      </Sentence>
      {reason && (
        <p role="alert" className="mt-1 text-sm text-alarm">
          {reason}
        </p>
      )}
      {opened === "on" && (
        <div id={onId}>
          <LinkSuited on={on ?? {}} save={(next) => (next ? save({ on: next }) : without("on"))} />
        </div>
      )}
      {opened === "ends" && (
        <div id={endsId}>
          <LinkEnds of={of} ends={terms.ends} codes={codes} save={(ends) => save({ ends })} />
        </div>
      )}
      {isSaying && (
        <div id={saysId} className="grid max-w-2xl gap-2 pb-1">
          {(Object.entries(occasions) as [Occasion, string][]).map(([why, label]) => (
            <label key={why} className="grid gap-0.5 text-sm text-muted">
              {label}
              <textarea
                rows={2}
                maxLength={1000}
                defaultValue={says[why] ?? ""}
                placeholder="Said in the study’s language, unless you write it here"
                className="field !h-auto py-1"
                onBlur={({ target }) =>
                  target.value !== (says[why] ?? "") && save({ says: { ...says, [why]: target.value } })
                }
              />
            </label>
          ))}
        </div>
      )}
    </div>
  );
}

type Props = { terms: Terms; save: (change: Partial<Terms>) => void; without: (name: keyof Terms) => void };

function PersonAndHowOften({ terms: { perLink }, save, without }: Props) {
  const kind = perLink === undefined ? "once" : perLink === asOftenAsTheyLike ? "any" : "most";
  return (
    <>
      {"Each person with one of these links may take part "}
      <SentenceChoice
        label="How often"
        value={kind}
        options={[
          ["once", "once"],
          ["most", "so often:"],
          ["any", "as often as they like"],
        ]}
        onChange={(next) =>
          next === "once" ? without("perLink") : save({ perLink: next === "any" ? asOftenAsTheyLike : 2 })
        }
      />
      {kind === "most" && (
        <>
          {" "}
          <SentenceNumber
            label="Times per link"
            value={perLink ?? 2}
            whole
            least={2}
            most={asOftenAsTheyLike - 1}
            onChange={(count) => save({ perLink: count })}
          />
        </>
      )}
    </>
  );
}

function WhoAndHowOften({ terms, saveWhole }: { terms: Terms; saveWhole: (terms: Terms) => void }) {
  const { who, perBrowser, perCode, ...rest } = terms;
  const per = perBrowser === undefined ? (perCode === undefined ? null : "code") : "browser";
  const count = perBrowser ?? perCode ?? 1;
  const setWho = (who: Terms["who"]) => saveWhole({ ...terms, who });
  const setTimes = (of: "browser" | "code" | null, times: number) =>
    saveWhole({ ...rest, who, ...(of === null ? {} : of === "code" ? { perCode: times } : { perBrowser: times }) });
  return (
    <>
      <SentenceChoice
        label="Who may take part"
        value={who.kind}
        options={[
          ["anyone", "Anyone with the link"],
          ["word", "Anyone with the link who knows the word"],
          ["team", "Only the team, signed in, as a pilot,"],
        ]}
        onChange={(kind) => setWho(kind === "word" ? { kind, word: "tide" } : { kind })}
      />
      {who.kind === "word" && (
        <>
          {" “"}
          <SentenceText
            label="The word"
            value={who.word}
            problem={(text) =>
              text.trim() === "" ? "Type the word." : text.length > 60 ? "At most 60 characters." : null
            }
            onChange={(word) => setWho({ kind: "word", word: word.trim() })}
          />
          {"”"}
        </>
      )}
      {" may take part "}
      <SentenceChoice
        label="How often"
        value={per === null ? "any" : `${count === 1 ? "once" : "most"}-${per}`}
        options={[
          ["any", "as often as they like"],
          ["once-browser", "once per browser"],
          ["most-browser", "per browser so often:"],
          ["once-code", "once per code, which is asked for"],
          ["most-code", "per code, which is asked for, so often:"],
        ]}
        onChange={(kind) => {
          const [times, of] = kind.split("-");
          setTimes(kind === "any" ? null : of === "code" ? "code" : "browser", times === "once" ? 1 : 2);
        }}
      />
      {per !== null && count > 1 && (
        <>
          {" "}
          <SentenceNumber
            label={`Times per ${per}`}
            value={count}
            whole
            least={2}
            most={1000}
            onChange={(times) => setTimes(per, times)}
          />
        </>
      )}
    </>
  );
}

type HowManyProps = { terms: Terms; saveWhole: (terms: Terms) => void; document: StudyDocument };

function HowMany({ terms: { mostFinished, mostEach, ...rest }, saveWhole, document }: HowManyProps) {
  const kind = mostFinished !== undefined ? "most" : (mostEach?.of ?? "any");
  const set = (next: string, count: number) =>
    saveWhole({
      ...rest,
      ...(next === "most" ? { mostFinished: count } : {}),
      ...(next === "group" || next === "stratum" ? { mostEach: { of: next, count } } : {}),
    });
  return (
    <>
      <SentenceChoice
        label="How many"
        value={kind}
        options={[
          ["any", "however many finish"],
          ["most", "or until so many have finished:"],
          ...(document.groups.length > 1 || kind === "group"
            ? [["group", "or until in each group so many have finished:"] as const]
            : []),
          ...(document.allocation.strata.length > 0 || kind === "stratum"
            ? [["stratum", "or until in each stratum so many have finished:"] as const]
            : []),
        ]}
        onChange={(next) => set(next, next === "most" ? 100 : 20)}
      />
      {kind !== "any" && (
        <>
          {" "}
          <SentenceNumber
            label="Finished sessions"
            value={mostFinished ?? mostEach?.count ?? 1}
            whole
            least={1}
            most={1_000_000}
            onChange={(count) => set(kind, count)}
          />
        </>
      )}
    </>
  );
}

type Occasion = WhyNot | "unsuited";
type Opened = "says" | "ends" | "on";

const occasions: Record<Occasion, string> = {
  closed: "While the link is closed",
  early: "Before it opens",
  over: "After its time",
  full: "When enough have finished",
  unsuited: "On a device or browser that cannot be used",
};
