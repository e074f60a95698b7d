import { Plus, Trash2 } from "lucide-react";
import { Button, IconButton } from "~/app/components/button";
import { NumberField, Property, Section, Switch, TextField, Tick } from "~/app/components/fields";
import { Sentence, SentenceChoice } from "~/app/components/sentence";
import { RemoveUsed } from "~/app/components/used-first";
import { useStudy } from "~/app/editing/use-study";
import { removeScore, setScore } from "~/core/design/edits/page";
import { namesEverywhere } from "~/core/design/names-in-reach";
import type { Page } from "~/core/design/page";
import { questionsInOrder } from "~/core/design/questions";
import { questionKind } from "~/core/questions/registry";
import { hasRight, scoresInWords, type Score, type ScoreSource } from "~/core/scores/score";
import { usesOfScore } from "~/core/design/uses-of-answers";
import { nameProblem } from "~/core/values/names";
import { Margin } from "../margin";

/** The settings of a score: what it is made of, how, and what is reported. */
export function ScoreMargin({ page, score }: { page: Page; score: Score }) {
  const { document, edit, look } = useStudy();
  const set = (change: Partial<Score>, merge?: string) =>
    edit(setScore(score.id, change), merge && `${merge} ${score.id}`);
  const isOfRight = score.of === "count-right" || score.of === "share-right";
  const same = (a: ScoreSource, b: ScoreSource) => a.question === b.question && a.part === b.part;
  const toggle = (source: ScoreSource, on: boolean) =>
    set({ from: on ? [...score.from, source] : score.from.filter((each) => !same(each, source)) });
  const sources = questionsInOrder(document).flatMap(({ question }) => {
    const { score: counts, parts } = questionKind(question.kind);
    const scored = (parts?.(question) ?? []).filter((part) => part.score);
    if (isOfRight ? !hasRight(question) : !counts && scored.length === 0) return [];
    const whole = { source: { question: question.id } as ScoreSource, name: question.name, isPart: false };
    return [
      whole,
      ...(isOfRight || counts
        ? []
        : scored.map((part) => ({
            source: { question: question.id, part: part.id },
            name: `${question.name}_${part.name}`,
            isPart: true,
          }))),
    ];
  });
  return (
    <Margin
      up={{ name: page.name, holds: "time, going on, ending", go: () => look({ selected: { kind: "nothing" } }) }}
      title={<span className="font-mono">{score.name}</span>}
      kind="score"
      actions={
        <RemoveUsed
          label="Remove the score"
          uses={usesOfScore(document, score.id)}
          onRemove={() => {
            edit(removeScore(score.id));
            look({ selected: { kind: "nothing" } });
          }}
        />
      }
    >
      <Section title="What it is">
        <Property label="Name" htmlFor="score-name">
          <TextField
            id="score-name"
            value={score.name}
            onChange={(name) => set({ name }, "name")}
            problem={(name) => nameProblem(name, namesEverywhere(document, score.id))}
          />
        </Property>
        <Sentence>
          The{" "}
          <SentenceChoice
            label="How it is made"
            value={score.of}
            options={Object.entries(scoresInWords) as [Score["of"], string][]}
            onChange={(of) => set({ of })}
          />{" "}
          of the answers below, if at least
          <span className="mx-1 inline-block w-12 align-middle">
            <NumberField
              label="Fewest answers"
              value={score.atLeast}
              whole
              least={1}
              onChange={(atLeast) => set({ atLeast }, "at least")}
            />
          </span>
          are there.
        </Sentence>
        <p className="text-xs text-muted">
          {isOfRight
            ? "A question that was asked and not answered is not right."
            : "Reversed answers are reversed first. A sum with answers missing is their mean times the number of items."}
        </p>
      </Section>
      <Section title="Made of" aside={`${score.from.length}`}>
        {sources.length === 0 && (
          <p className="text-sm text-muted">
            {isOfRight ? "No question has a right answer yet." : "No question gives a number yet."}
          </p>
        )}
        {sources.map(({ source, name, isPart }) => (
          <Tick
            key={`${source.question} ${source.part ?? ""}`}
            checked={score.from.some((each) => same(each, source))}
            onChange={(on) => toggle(source, on)}
            className={isPart ? "pl-5" : ""}
          >
            <span className="font-mono text-xs">{name}</span>
          </Tick>
        ))}
      </Section>
      <Section title="Reported">
        <Switch
          label="By a table"
          means="instead of the raw value"
          checked={score.reported !== undefined}
          onChange={(on) => set({ reported: on ? [{ from: 0, value: "low" }] : undefined })}
        />
        {score.reported?.map(({ from, value }, index) => (
          <span key={index} className="flex items-center gap-1 text-sm text-muted">
            from
            <NumberField
              label={`From, line ${index + 1}`}
              value={from}
              onChange={(next) =>
                set(
                  { reported: score.reported?.map((line, at) => (at === index ? { ...line, from: next } : line)) },
                  "reported",
                )
              }
            />
            on:
            <TextField
              label={`Reported, line ${index + 1}`}
              value={String(value)}
              onChange={(text) =>
                set(
                  {
                    reported: score.reported?.map((line, at) =>
                      at === index
                        ? { ...line, value: text.trim() !== "" && Number.isFinite(Number(text)) ? Number(text) : text }
                        : line,
                    ),
                  },
                  "reported",
                )
              }
            />
            <IconButton
              icon={Trash2}
              label={`Remove line ${index + 1}`}
              onClick={() => {
                const left = score.reported?.filter((_, at) => at !== index) ?? [];
                set({ reported: left.length > 0 ? left : undefined });
              }}
            />
          </span>
        ))}
        {score.reported && (
          <Button
            icon={Plus}
            look="quiet"
            className="justify-self-start"
            onClick={() =>
              set({
                reported: [...(score.reported ?? []), { from: (score.reported?.at(-1)?.from ?? 0) + 1, value: "" }],
              })
            }
          >
            Line
          </Button>
        )}
      </Section>
    </Margin>
  );
}
