import { useId, useState } from "react";
import { Sentence, SentenceChoice, SentenceMore, SentenceNumber, SentenceText } from "~/app/components/sentence";
import { LinkEnds } from "./link-ends";
import { hereZone, SpanChoice } from "./moment-field";
import { useChosen } from "./use-chosen";
import type { Terms, WhyNot } from "~/core/collect/terms";
import type { CodesLeft } from "~/server/ends";

/** What a link, or a set of links for one person each, asks of those who come by it: a sentence whose underlined words are choices. */
export function LinkSentence({
  of,
  asked,
  codes,
}: {
  of: { link: string } | { set: string };
  asked: Terms;
  codes: CodesLeft[string];
}) {
  const {
    value: terms,
    save,
    without,
    reason,
  } = useChosen(asked, (next) => ({
    ...("link" in of ? { do: "set-link", link: of.link } : { do: "set-links", set: of.set }),
    terms: next,
  }));
  const [opened, setOpened] = useState<"says" | "ends" | null>(null);
  const [saysId, endsId] = [useId(), useId()];
  const isSaying = opened === "says";
  const opens = (what: "says" | "ends") => () => setOpened(opened === what ? null : what);
  const { from, until, mostFinished, goOn, says } = terms;
  return (
    <div className="mt-2">
      <Sentence>
        {"set" in of ? (
          "Each person with one of these links may take part once"
        ) : (
          <WhoAndHowOften terms={terms} save={save} without={without} />
        )}
        {", "}
        <SpanChoice
          from={from}
          until={until}
          setFrom={(moment) => (moment ? save({ from: moment }) : without("from"))}
          setUntil={(moment) => (moment ? save({ until: moment }) : without("until"))}
        />
        {", "}
        <SentenceChoice
          label="How many"
          value={mostFinished === undefined ? "any" : "most"}
          options={[
            ["any", "however many finish"],
            ["most", "or until so many have finished:"],
          ]}
          onChange={(kind) => (kind === "any" ? without("mostFinished") : save({ mostFinished: 100 }))}
        />
        {mostFinished !== undefined && (
          <>
            {" "}
            <SentenceNumber
              label="Finished sessions"
              value={mostFinished}
              whole
              least={1}
              most={1_000_000}
              onChange={(count) => save({ mostFinished: count })}
            />
          </>
        )}
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
      {opened === "ends" && (
        <div id={endsId}>
          <LinkEnds of={of} ends={terms.ends} codes={codes} save={(ends) => save({ ends })} />
        </div>
      )}
      {isSaying && (
        <div id={saysId} className="grid max-w-2xl gap-2 pb-1">
          {(Object.entries(occasions) as [WhyNot, string][]).map(([why, label]) => (
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

type WhoProps = { terms: Terms; save: (change: Partial<Terms>) => void; without: (name: "perBrowser") => void };

function WhoAndHowOften({ terms: { who, perBrowser }, save, without }: WhoProps) {
  return (
    <>
      <SentenceChoice
        label="Who may take part"
        value={who.kind}
        options={[
          ["anyone", "Anyone with the link"],
          ["word", "Anyone with the link who knows the word"],
        ]}
        onChange={(kind) => save({ who: kind === "word" ? { kind, word: "tide" } : { kind } })}
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
            onChange={(word) => save({ who: { kind: "word", word: word.trim() } })}
          />
          {"”"}
        </>
      )}
      {" may take part "}
      <SentenceChoice
        label="How often"
        value={perBrowser === undefined ? "any" : perBrowser === 1 ? "once" : "most"}
        options={[
          ["any", "as often as they like"],
          ["once", "once per browser"],
          ["most", "per browser so often:"],
        ]}
        onChange={(kind) => (kind === "any" ? without("perBrowser") : save({ perBrowser: kind === "once" ? 1 : 2 }))}
      />
      {perBrowser !== undefined && perBrowser > 1 && (
        <>
          {" "}
          <SentenceNumber
            label="Times per browser"
            value={perBrowser}
            whole
            least={2}
            most={1000}
            onChange={(count) => save({ perBrowser: count })}
          />
        </>
      )}
    </>
  );
}

const occasions: Record<WhyNot, string> = {
  closed: "While the link is closed",
  early: "Before it opens",
  over: "After its time",
  full: "When enough have finished",
};
