import { SentenceChoice } from "~/app/components/sentence";
import { useInBrowser } from "~/app/components/use-in-browser";
import type { Moment } from "~/core/collect/moment";

export const hereZone = () => Intl.DateTimeFormat().resolvedOptions().timeZone;

/** The next full hour, so many days from now. */
function inDays(days: number): Moment {
  const at = new Date(Date.now() + days * 86_400_000 + 3_600_000);
  at.setMinutes(0, 0, 0);
  return { at: at.toISOString(), zone: hereZone() };
}

/** A day and time, typed in this computer's time zone. */
function MomentField({ label, moment, onChange }: { label: string; moment: Moment; onChange: (to: Moment) => void }) {
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

type Props = {
  /** What opens and is over, for those who hear the labels: nothing where it is a link. */
  of?: "wave";
  from: Moment | undefined;
  until: Moment | undefined;
  /** Undefined: from now on, or until it is closed. */
  setFrom: (to: Moment | undefined) => void;
  setUntil: (to: Moment | undefined) => void;
};

/** From when until when, as part of a sentence. */
export function SpanChoice({ of, from, until, setFrom, setUntil }: Props) {
  const called = (label: string) => (of ? `${label} (${of})` : label);
  return (
    <>
      <SentenceChoice
        label={called("From when")}
        value={from ? "day" : "now"}
        options={[
          ["now", "from now on"],
          ["day", "from this time on:"],
        ]}
        onChange={(kind) => setFrom(kind === "now" ? undefined : inDays(0))}
      />
      {from && <MomentField label={called("Opens")} moment={from} onChange={setFrom} />}
      {", "}
      <SentenceChoice
        label={called("Until when")}
        value={until ? "day" : "closed"}
        options={[
          ["closed", "until it is closed"],
          ["day", "until this time:"],
        ]}
        onChange={(kind) => setUntil(kind === "closed" ? undefined : inDays(14))}
      />
      {until && <MomentField label={called("Is over")} moment={until} onChange={setUntil} />}
    </>
  );
}
