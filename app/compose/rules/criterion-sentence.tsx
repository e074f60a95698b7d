import { Repeat, X } from "lucide-react";
import { Button, IconButton } from "~/app/components/button";
import { Sentence, SentenceChoice, SentenceNumber } from "~/app/components/sentence";
import { newId } from "~/app/editing/new-id";
import { useFindings, useStudy } from "~/app/editing/use-study";
import { asidePage } from "~/core/design/edits/rules";
import type { Block } from "~/core/design/block";
import { together, type Edit } from "~/core/design/edits/edit";
import { newPage } from "~/core/design/page";
import { newCriterion, neededRight, type Criterion } from "~/core/rules/criterion";
import { freeTitle } from "~/core/values/names";
import { plainText, wordsIn } from "~/core/values/formatted-text";

const times = ["once", "twice", "three times", "four times", "five times", "six times", "seven times", "eight times"];

/** “Until good enough” as one sentence: when a block or bracket ends, and what happens until then. */
export function CriterionSentence({
  value,
  onChange,
  block,
  what,
  where,
}: {
  value: Criterion | undefined;
  onChange: (value: Criterion | undefined) => Edit;
  /** Null for a bracket. */
  block: Block | null;
  /** What is repeated, as the sentence calls it: “the block”, “the bracket”. */
  what: string;
  /** How preflight calls it. */
  where: string;
}) {
  const { document, edit } = useStudy();
  const found = useFindings().filter((each) => each.where === `${where}, until good enough`);
  if (!value)
    return (
      <div className="max-w-[68ch]">
        <p className="mb-2 text-muted">
          Practice can be repeated until it is good enough: until, for example, 85 % of the last 12 trials are right.
        </p>
        <Button
          icon={Repeat}
          onClick={() => edit(onChange(block ? newCriterion : { ...newCriterion, looked: "pass-end", over: "all" }))}
        >
          Repeat {what} until good enough
        </Button>
      </div>
    );
  const set = (change: Partial<Criterion>) => {
    const next: Record<string, unknown> = { ...value, ...change };
    for (const [key, each] of Object.entries(next)) if (each === undefined) delete next[key];
    edit(onChange(next as Criterion), `criterion ${where}`);
  };
  const { looked, rightShare, medianMs, over, trials, each, attempts, before, otherwise, text } = value;
  const pages = Object.values(document.parts).filter(({ kind }) => kind === "page");
  const choosePage = (chosen: string) => {
    if (chosen !== "new") return set({ before: chosen || undefined });
    const page = newPage(
      newId,
      freeTitle(
        "Once more",
        Object.values(document.parts).map(({ name }) => name),
      ),
      plainText("You will practise once more. Here is how to answer."),
    );
    edit(together(asidePage(page), onChange({ ...value, before: page.id })));
  };
  const kinds =
    rightShare !== undefined && medianMs !== undefined ? "both" : rightShare !== undefined ? "right" : "fast";
  return (
    <div className="max-w-[80ch]">
      <Sentence>
        {block ? "Ends " : "The bracket ends "}
        {block ? (
          <SentenceChoice
            label="When it is looked at"
            value={looked}
            options={[
              ["every-trial", "as soon as"],
              ["pass-end", "only when the table is used up and"],
            ]}
            onChange={(next) => set({ looked: next })}
          />
        ) : (
          "when "
        )}{" "}
        <SentenceChoice
          label="What is looked at"
          value={kinds}
          options={[
            ["right", "at least"],
            ["fast", "the median time"],
            ["both", "the share right and the time"],
          ]}
          onChange={(kind) =>
            set({
              rightShare: kind === "fast" ? undefined : (rightShare ?? 0.85),
              medianMs: kind === "right" ? undefined : (medianMs ?? 800),
            })
          }
        />{" "}
        {rightShare !== undefined && (
          <>
            {kinds === "both" && "is at least "}
            <SentenceNumber
              label="Share right, in per cent"
              value={Math.round(rightShare * 1000) / 10}
              least={1}
              most={100}
              unit=" %"
              onChange={(share) => set({ rightShare: share / 100 })}
            />{" "}
            of{" "}
          </>
        )}
        {rightShare === undefined && "of right answers in "}
        <SentenceChoice
          label="Which trials count"
          value={over}
          options={[
            ["last", "the last"],
            ["all", "all trials, with at least"],
          ]}
          onChange={(next) => set({ over: next })}
        />{" "}
        <SentenceNumber
          label="How many trials"
          value={trials}
          least={1}
          most={1000}
          onChange={(count) => set({ trials: Math.round(count) })}
        />{" "}
        trials{rightShare !== undefined ? " are right" : ""}
        {medianMs !== undefined && (
          <>
            {rightShare !== undefined ? " and their median time is" : " is"} at most{" "}
            <SentenceNumber
              label="Median time at most"
              value={medianMs}
              least={1}
              most={60_000}
              unit=" ms"
              onChange={(ms) => set({ medianMs: ms })}
            />
          </>
        )}
        {block && block.table.columns.some(({ factor }) => factor) && (
          <>
            ,{" "}
            <SentenceChoice
              label="By levels"
              value={each ?? ""}
              options={[
                ["", "over all trials together"],
                ...block.table.columns
                  .filter(({ factor }) => factor)
                  .map(({ id, name }) => [id, `for each ${name} by itself`] as const),
              ]}
              onChange={(column) => set({ each: column || undefined })}
            />
          </>
        )}
        . If {block ? "the table is used up before" : "it is not"},{" "}
        <SentenceChoice
          label="The page before another attempt"
          value={before ?? ""}
          options={[
            ["", "nothing is shown"],
            ...pages.map(({ id, name }) => [id, `the page ${name} is shown`] as const),
            ["new", "a new page is shown …"],
          ]}
          onChange={choosePage}
        />{" "}
        and {what} begins again in a new order, at most{" "}
        <SentenceChoice
          label="How many more attempts"
          value={String(attempts)}
          options={Array.from(
            { length: Math.max(9, attempts) },
            (_, index) =>
              [String(index + 1), index === 0 ? "not once" : (times[index - 1] ?? `${index} times`)] as const,
          )}
          onChange={(count) => set({ attempts: Number(count) })}
        />
        ; after that{" "}
        <SentenceChoice
          label="What follows then"
          value={otherwise}
          options={[
            ["go-on", "the study goes on"],
            ["end", "the session ends kindly"],
          ]}
          onChange={(next) =>
            set({
              otherwise: next,
              text: next === "end" ? (text ?? plainText("Thank you. That was all for today.")) : undefined,
            })
          }
        />
        , and the data say so.
        <span className="ml-2 align-middle">
          <IconButton icon={X} label={`Play ${what} once`} onClick={() => edit(onChange(undefined))} />
        </span>
      </Sentence>
      {otherwise === "end" && (
        <label className="mt-1 flex items-center gap-2 text-sm">
          <span className="text-muted">Participants read</span>
          <input
            className="field max-w-[46ch]"
            value={wordsIn(text ?? [])}
            onChange={({ target }) => set({ text: plainText(target.value) })}
          />
        </label>
      )}
      {rightShare !== undefined && over === "last" && (
        <p className="mt-1 text-sm text-muted">
          {Math.round(rightShare * 1000) / 10} % of {trials} means {neededRight(rightShare, trials)} right.
        </p>
      )}
      {found.map(({ message, level }) => (
        <p
          key={message}
          className={`mt-1 text-sm ${level === "error" ? "text-alarm" : level === "warning" ? "text-chestnut" : "text-muted"}`}
        >
          {message}
        </p>
      ))}
    </div>
  );
}
