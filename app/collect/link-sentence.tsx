import { useId, useState } from "react";
import { useFetcher } from "react-router";
import { Button } from "~/app/components/button";
import { Sentence, SentenceChoice, SentenceNumber, SentenceText } from "~/app/components/sentence";
import { useInBrowser } from "~/app/components/use-in-browser";
import type { Moment, Terms, WhyNot } from "~/core/collect/terms";

/** What a link, or a set of links for one person each, asks of those who come by it: a sentence whose underlined words are choices. */
export function LinkSentence({ of, asked }: { of: { link: string } | { set: string }; asked: Terms }) {
  const saving = useFetcher<{ reason?: string }>();
  const sent = saving.json as { terms: Terms } | undefined;
  /** What was chosen last: it stands until the server tells how it is, or while the server refuses it. */
  const [last, setLast] = useState<{ terms: Terms; instead: Terms } | null>(null);
  const isRefused = saving.data?.reason !== undefined;
  const chosen = last && (last.instead === asked || isRefused) ? last.terms : asked;
  const terms = sent?.terms ?? chosen;
  const [isSaying, setSaying] = useState(false);
  const saysId = useId();
  const { from, until, mostFinished, goOn, says } = terms;
  const saveWhole = (next: Terms) => {
    setLast({ terms: next, instead: asked });
    void saving.submit({ ...of, terms: next } as never, { method: "post", encType: "application/json" });
  };
  const save = (change: Partial<Terms>) => saveWhole({ ...terms, ...change });
  const without = (name: "perBrowser" | "from" | "until" | "mostFinished") =>
    saveWhole(Object.fromEntries(Object.entries(terms).filter(([each]) => each !== name)) as Terms);
  return (
    <div className="mt-2">
      <Sentence>
        {"set" in of ? (
          "Each person with one of these links may take part once"
        ) : (
          <WhoAndHowOften terms={terms} save={save} without={without} />
        )}
        {", "}
        <SentenceChoice
          label="From when"
          value={from ? "day" : "now"}
          options={[
            ["now", "from now on"],
            ["day", "from this time on:"],
          ]}
          onChange={(kind) => (kind === "now" ? without("from") : save({ from: inDays(0) }))}
        />
        {from && <When label="Opens" moment={from} onChange={(moment) => save({ from: moment })} />}
        {", "}
        <SentenceChoice
          label="Until when"
          value={until ? "day" : "closed"}
          options={[
            ["closed", "until it is closed"],
            ["day", "until this time:"],
          ]}
          onChange={(kind) => (kind === "closed" ? without("until") : save({ until: inDays(14) }))}
        />
        {until && <When label="Is over" moment={until} onChange={(moment) => save({ until: moment })} />}
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
      </Sentence>
      {saving.data?.reason && (
        <p role="alert" className="mt-1 text-sm text-alarm">
          {saving.data.reason}
        </p>
      )}
      <Button
        look="quiet"
        className="mt-1 !px-0"
        aria-expanded={isSaying}
        aria-controls={saysId}
        onClick={() => setSaying(!isSaying)}
      >
        What is said to those who cannot begin
      </Button>
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

const hereZone = () => Intl.DateTimeFormat().resolvedOptions().timeZone;
/** The next full hour, so many days from now. */
function inDays(days: number): Moment {
  const at = new Date(Date.now() + days * 86_400_000 + 3_600_000);
  at.setMinutes(0, 0, 0);
  return { at: at.toISOString(), zone: hereZone() };
}

/** A day and time, typed in this computer's time zone. */
function When({ label, moment, onChange }: { label: string; moment: Moment; onChange: (moment: Moment) => void }) {
  const inBrowser = useInBrowser();
  if (!inBrowser) return <span> {moment.at}</span>;
  const at = new Date(moment.at);
  const two = (number: number) => String(number).padStart(2, "0");
  const local = `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}T${two(at.getHours())}:${two(at.getMinutes())}`;
  return (
    <span className="whitespace-nowrap">
      {" "}
      <input
        type="datetime-local"
        aria-label={label}
        defaultValue={local}
        className="sentence-written"
        onChange={({ target }) => {
          const chosen = new Date(target.value);
          if (!Number.isNaN(chosen.getTime())) onChange({ at: chosen.toISOString(), zone: hereZone() });
        }}
      />
      <span className="font-sans text-sm text-muted"> {hereZone()}</span>
    </span>
  );
}
