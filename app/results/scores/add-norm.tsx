import { useEffect, useState } from "react";
import { useFetcher, useLocation } from "react-router";
import { useDone } from "~/app/components/use-done";
import { Button } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { Field } from "~/app/components/field";
import { ChoiceLine, Tick } from "~/app/components/fields";
import { useStudy } from "~/app/editing/use-study";
import { normsFromCsv } from "~/core/persons/from-csv";
import { bandInWords, norm as normShape, type Norm } from "~/core/persons/norm";
import { hasShape, mistakesIn } from "~/core/shape/shape";
import type { ScoresAnswer } from "~/server/results/scores";
import { usePersons } from "./use-persons";

const mostBytes = 2_000_000;

/** Adds a norm sample of a score: from a table that somebody published, or of the sessions that are kept now. */
export function AddNorm({
  score,
  kind,
  answer: { reliability },
  close,
}: {
  score: string;
  kind: "csv" | "own";
  answer: ScoresAnswer;
  close: () => void;
}) {
  const { code } = useStudy();
  const { fetcher, send, isBusy, reason } = usePersons();
  const [text, setText] = useState<{ name: string; text: string | null } | null>(null);
  const [isNormal, setIsNormal] = useState(false);
  const [about, setAbout] = useState({
    ...{ name: kind === "own" ? "Sessions of this study" : "", source: kind === "own" ? `The study ${code}` : "" },
    ...{ year: kind === "own" ? String(new Date().getFullYear()) : "", better: "higher" as Norm["better"] },
    reliability: kind === "own" && reliability ? reliability.whole.toFixed(2) : "",
    interval: "obtained" as Norm["interval"],
  });
  useDone(fetcher, close);
  // The scores of everybody are asked for when they are needed only.
  const { load, data: loaded } = useFetcher<{ answer: unknown }>();
  const { pathname, search } = useLocation();
  useEffect(() => {
    if (kind === "own")
      void load(`${pathname}?${new URLSearchParams([...new URLSearchParams(search), ["own", "yes"]])}`);
  }, [kind, load, pathname, search]);
  const own = kind === "own" && loaded ? (loaded.answer as ScoresAnswer).own : [];
  const read = text?.text == null ? null : normsFromCsv(text.text, isNormal);
  const bands =
    kind === "own"
      ? own.length === 0
        ? []
        : [{ n: own.length, where: [], values: { kind: "own" as const, scores: own } }]
      : read?.ok
        ? read.bands
        : [];
  const hasMeans = read?.ok === true && read.bands.some(({ values }) => values.kind === "moments");
  const number = (written: string) => (written.trim() === "" ? null : Number(written.trim().replace(",", ".")));
  const norm = {
    ...{ score, name: about.name.trim(), source: about.source.trim(), year: number(about.year) },
    ...{ better: about.better, reliability: number(about.reliability), interval: about.interval, bands },
  };
  const [mistake] = about.name.trim() === "" || bands.length === 0 ? [] : mistakesIn(normShape, norm);
  const fields = { year: "The year", reliability: "Reliability" } as Record<string, string>;
  const take = async (file: File) => {
    if (file.size > mostBytes) return setText({ name: file.name, text: null });
    setText({ name: file.name, text: await file.text() });
    setAbout((before) => (before.name === "" ? { ...before, name: file.name.replace(/\.[a-z]+$/i, "") } : before));
  };
  return (
    <Dialog
      open
      onOpenChange={close}
      wide
      title={`A norm sample of ${score}`}
      description={
        kind === "own"
          ? `The scores of the sessions that are kept now${own.length > 0 ? `, ${own.length} of them` : ""}, frozen as they are. Whoever belongs to it is read against the others.`
          : "A CSV file with a line of headers: raw and percentile, or mean and sd; n where it is known. Other columns say whom a line is for: age_from and age_to a range of the column age, sex a word."
      }
    >
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (hasShape(normShape, norm)) send({ do: "add-norm", norm });
        }}
      >
        {kind === "csv" && (
          <input
            type="file"
            accept=".csv,.tsv,.txt"
            aria-label="Table of norms"
            onChange={({ target }) => {
              const [file] = target.files ?? [];
              if (file) void take(file);
              // The same file can be chosen again once it was mended.
              target.value = "";
            }}
          />
        )}
        {text?.text === null && (
          <p role="alert" className="text-sm text-alarm">
            {text.name} has more than {mostBytes / 1e6} MB. A table of norms has a line for each score and band; take
            out what does not belong to it.
          </p>
        )}
        {read && !read.ok && (
          <ul role="alert" className="list-disc pl-5 text-sm text-alarm">
            {read.problems.map((problem) => (
              <li key={problem}>{problem}</li>
            ))}
          </ul>
        )}
        {read?.ok && (
          <p className="text-sm text-muted" data-read>
            {text?.name}. {read.bands.length === 1 ? "One band" : `${read.bands.length} bands`}:{" "}
            {read.bands
              .slice(0, 6)
              .map((band) => bandInWords(band) || "everybody")
              .join("; ")}
            {read.bands.length > 6 && " …"}
          </p>
        )}
        <Field
          label="Name"
          value={about.name}
          maxLength={80}
          onChange={({ target }) => setAbout({ ...about, name: target.value })}
        />
        <div className="grid grid-cols-[1fr_90px_110px] gap-3">
          <Field
            label="Source"
            value={about.source}
            maxLength={1000}
            placeholder="who published it, and where"
            onChange={({ target }) => setAbout({ ...about, source: target.value })}
          />
          <Field
            label="Year"
            inputMode="numeric"
            value={about.year}
            onChange={({ target }) => setAbout({ ...about, year: target.value })}
          />
          <Field
            label="Reliability"
            inputMode="decimal"
            value={about.reliability}
            placeholder="0 to 1"
            onChange={({ target }) => setAbout({ ...about, reliability: target.value })}
          />
        </div>
        <ChoiceLine
          says="A high rank means"
          value={about.better}
          options={[
            ["higher", "a higher score"],
            ["lower", "a lower score"],
          ]}
          onChange={(better) => setAbout({ ...about, better })}
        />
        <ChoiceLine
          says="The interval lies around"
          value={about.interval}
          options={[
            ["obtained", "the score obtained"],
            ["true", "the true score, estimated"],
          ]}
          onChange={(interval) => setAbout({ ...about, interval })}
        />
        {hasMeans && (
          <Tick checked={isNormal} onChange={setIsNormal}>
            the source says that these scores are normally distributed, so that they have percentile ranks
          </Tick>
        )}
        {mistake && (
          <p role="alert" className="text-sm text-alarm">
            {fields[mistake.path] ?? mistake.path} {mistake.message}.
          </p>
        )}
        {reason !== undefined && (
          <p role="alert" className="text-sm text-alarm">
            {reason}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" look="primary" disabled={!hasShape(normShape, norm) || isBusy}>
            Add it
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
