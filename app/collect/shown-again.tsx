import { ChevronFirst, ChevronLeft, ChevronRight, Pause, Play } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { askServer } from "~/app/ask-server";
import { Button, IconButton } from "~/app/components/button";
import { Choice, Tick } from "~/app/components/fields";
import { ParticipantFrame } from "~/app/components/participant-frame";
import { useWidth } from "~/app/components/use-width";
import { mediaUrlIn, useStudy } from "~/app/editing/use-study";
import { givenAnswers, type GivenAt } from "~/core/describe/given-answers";
import { blockOf } from "~/core/design/lookup";
import type { StudyDocument } from "~/core/design/document";
import { entryInto } from "~/core/run/entry";
import { lastUpTo, Shown, type Moment } from "~/core/run/shown";
import type { PreviewMessage } from "~/player/preview";
import type { StoredSession } from "~/server/shown-session";

/** What a session is shown again in where its window was not told, in CSS pixels. */
const usualWindow = { width: 1280, height: 800 };
/** So high the picture is at most, in pixels. */
const mostHigh = 420;
const speeds = [
  ["0.25", "a quarter as fast"],
  ["0.5", "half as fast"],
  ["1", "as fast as it was"],
  ["2", "twice as fast"],
  ["5", "5 times as fast"],
  ["20", "20 times as fast"],
] as const;

/** Offers to show again what a participant saw; fetched only when it is asked for. */
export function ShownAgain({ session }: { session: string }) {
  const { code } = useStudy();
  const [stored, setStored] = useState<StoredSession | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [isAsked, setAsked] = useState(false);
  const ask = async () => {
    setAsked(true);
    setTrouble(null);
    const answered = await askServer<StoredSession>(`/studies/${code}/sessions/${session}/shown`);
    setAsked(false);
    if (answered.ok) setStored(answered.data);
    else setTrouble(answered.reason);
  };
  if (stored) return <Player stored={stored} />;
  return (
    <div className="mt-4">
      <Button icon={Play} disabled={isAsked} onClick={() => void ask()}>
        Show what was seen
      </Button>
      {trouble && (
        <p role="alert" className="mt-1 text-alarm">
          {trouble}
        </p>
      )}
    </div>
  );
}

function Player({ stored }: { stored: StoredSession }) {
  const { code } = useStudy();
  const { document, whose, records } = stored;
  const size = stored.window ?? usualWindow;
  const shown = useMemo(() => new Shown(document, whose, records), [document, whose, records]);
  const given = useMemo(() => givenAnswers(document, records), [document, records]);
  const frame = useMemo((): PreviewMessage => {
    const url = mediaUrlIn(code, document);
    const media = Object.fromEntries(
      document.media.flatMap(({ id }) => (url(id) === null ? [] : [[id, url(id) ?? ""]])),
    );
    return { entry: entryInto(document), page: { kind: "session", document, whose, records, media } };
  }, [code, document, whose, records]);
  /** When something happened: what lies long between two of these is a wait. */
  const happened = useMemo(() => {
    const seen = records.flatMap((record) => ("observed" in record ? record.observed.map(({ at }) => at) : []));
    return [...shown.moments.map(({ at }) => at), ...given.map(({ at }) => at), ...seen].toSorted((a, b) => a - b);
  }, [shown, given, records]);
  const end = happened.at(-1) ?? 0;
  const steps = useMemo(() => stepsOf(shown.moments), [shown]);

  const [at, setAt] = useState(() => steps[0] ?? 0);
  const [speed, setSpeed] = useState<(typeof speeds)[number][0]>("1");
  const [isPlaying, setPlaying] = useState(true);
  const [cutsWaits, setCutsWaits] = useState(true);
  const [box, width] = useWidth(640);
  const before = useRef(0);
  const playing = useRef<HTMLButtonElement>(null);
  // Whoever came by the keyboard goes on from here: the button that was pressed is gone.
  useEffect(() => playing.current?.focus(), []);
  useEffect(() => {
    if (!isPlaying) return;
    let asked = requestAnimationFrame(function play(now) {
      const passed = before.current === 0 ? 0 : now - before.current;
      before.current = now;
      setAt((was) => {
        const next = was + passed * Number(speed);
        return Math.min(end, cutsWaits ? withoutWait(happened, next) : next);
      });
      asked = requestAnimationFrame(play);
    });
    return () => {
      cancelAnimationFrame(asked);
      before.current = 0;
    };
  }, [isPlaying, speed, cutsWaits, end, happened]);
  useEffect(() => {
    if (at >= end) setPlaying(false);
  }, [at, end]);

  const moment = shown.moments[shown.at(at)];
  const go = (to: number | undefined) => to !== undefined && setAt(to);
  const zoom = Math.min(width / size.width, mostHigh / size.height);
  return (
    <section aria-label="What was seen" className="mt-4">
      <div ref={box}>
        <div style={{ width: size.width * zoom, height: size.height * zoom }}>
          <ParticipantFrame shows={frame} label="What the participant saw" zoom={zoom} at={at} className="h-full" />
        </div>
      </div>
      <div className="mt-2 flex items-center gap-1">
        <IconButton icon={ChevronFirst} label="To the beginning" onClick={() => go(steps[0] ?? 0)} />
        <IconButton
          icon={ChevronLeft}
          label="Back to the trial or page before"
          onClick={() => go(steps.findLast((each) => each < at - 1))}
        />
        <IconButton
          icon={isPlaying ? Pause : Play}
          ref={playing}
          label={isPlaying ? "Stop here" : "Go on"}
          onClick={() => {
            if (!isPlaying && at >= end) setAt(steps[0] ?? 0);
            setPlaying(!isPlaying);
          }}
        />
        <IconButton
          icon={ChevronRight}
          label="To the next trial or page"
          onClick={() => go(steps.find((each) => each > at))}
        />
        <input
          type="range"
          aria-label="Time in the session"
          aria-valuetext={clockOf(at)}
          min={0}
          max={Math.ceil(end)}
          step={10}
          value={at}
          onChange={({ target }) => setAt(Number(target.value))}
          className="min-w-0 flex-1 accent-plumage"
        />
        <span className="w-20 text-right font-mono text-xs text-muted">{clockOf(at)}</span>
      </div>
      <p className="mt-1 min-h-6 text-sm" data-seen>
        {moment && seenInWords(document, moment)}
        {lately(given, at).map((each, index) => (
          <span key={index} className={each.right === false ? "text-chestnut" : ""}>
            {" · "}
            {givenInWords(each, moment)}
          </span>
        ))}
      </p>
      <div className="mt-1 flex flex-wrap items-center gap-4 text-sm">
        <span className="w-44">
          <Choice label="Speed" value={speed} options={speeds} onChange={setSpeed} />
        </span>
        <Tick checked={cutsWaits} onChange={setCutsWaits}>
          Cut waits of more than 5 seconds short
        </Tick>
      </div>
      <p className="mt-1 text-xs text-muted">
        {stored.window
          ? `Drawn from the records, at the size of the participant’s window (${size.width} × ${size.height}).`
          : "Drawn from the records; the size of the participant’s window is not known."}{" "}
        Sounds are left out. How far a page was scrolled, and which of its questions was on where they come one by one,
        is not recorded.
        {shown.followed < records.length &&
          ` From record ${records[shown.followed]?.number ?? 0} on it cannot be shown: an earlier version of Lapwing played it differently.`}
      </p>
    </section>
  );
}

/** A wait longer than this is cut short, so much before what comes next, once it has lasted so long; all in ms. */
const [longest, lead, stays] = [5000, 500, 1000];
function withoutWait(happened: readonly number[], at: number): number {
  const index = lastUpTo(happened, at);
  const [last, next] = [happened[index], happened[index + 1]];
  return last !== undefined && next !== undefined && next - last > longest && at - last > stays
    ? Math.max(at, next - lead)
    : at;
}

/** When each trial, page and break began to be seen. */
function stepsOf(moments: readonly Moment[]): number[] {
  const first = new Map<number, number>();
  for (const { at, record, seen } of moments) if (seen.kind !== "nothing" && !first.has(record)) first.set(record, at);
  return [...first.values()];
}

function seenInWords(document: StudyDocument, { seen }: Moment): string {
  if (seen.kind === "nothing") return "Nothing of the study";
  const name = document.parts[seen.part]?.name ?? "";
  if (seen.kind === "page") return `Page ${name}`;
  if (seen.kind === "break") return `Break in ${name}`;
  const scene = blockOf(document, seen.part).scenes.find(({ id }) => id === seen.scene);
  return `${name}, trial ${seen.trial}, ${scene?.name ?? ""}`;
}

/** So long after it was given, in ms, an answer is told. */
const toldMs = 1500;
const lately = (given: readonly GivenAt[], at: number): GivenAt[] =>
  given.filter((each) => each.at <= at && at < each.at + toldMs).slice(-3);

function givenInWords({ trial, name, value, rt, right, counts }: GivenAt, moment: Moment | undefined): string {
  // It may be the next trial that is seen by now.
  const where = moment?.seen.kind === "scene" && moment.seen.trial === trial ? "" : `trial ${trial}, `;
  const time = rt === null ? "" : ` after ${Math.round(rt)} ms`;
  const was = counts !== "yes" ? `, ${counts}` : right === null ? "" : right ? ", right" : ", wrong";
  return `${where}${name}: ${value}${time}${was}`;
}

/** Session time as minutes, seconds and tenths. */
const clockOf = (ms: number): string =>
  `${Math.floor(ms / 60_000)}:${(Math.floor((ms % 60_000) / 100) / 10).toFixed(1).padStart(4, "0")}`;
