import { Plus } from "lucide-react";
import { Button } from "~/app/components/button";
import { Section } from "~/app/components/fields";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { addScore } from "~/core/design/edits/page";
import type { StudyDocument } from "~/core/design/document";
import { questionById } from "~/core/design/questions";
import { namesEverywhere } from "~/core/design/names-in-reach";
import { hasRight, scoresInWords, type Score } from "~/core/scores/score";
import type { Question } from "~/core/questions/registry";
import { freeName } from "~/core/values/names";
import { Chip } from "../chip";

/** A score of these questions, with a name that is free. */
export const freshScore = (document: StudyDocument, questions: readonly Question[]): Score => ({
  id: newId("score"),
  name: freeName("score", namesEverywhere(document, null)),
  of: questions.length > 0 && questions.every(hasRight) ? "share-right" : "mean",
  from: questions.map(({ id }) => ({ question: id })),
  atLeast: 1,
});

/** The scores a question counts in. */
export function ScoresOf({ question }: { question: Question }) {
  const { document, edit, look } = useStudy();
  const counted = document.scores.filter(({ from }) => from.some(({ question: id }) => id === question.id));
  return (
    <Section title="Scores">
      {counted.map((score) => (
        <button
          key={score.id}
          type="button"
          className="text-left text-sm hover:underline"
          onClick={() => look({ selected: { kind: "score", score: score.id } })}
        >
          {scoreInWords(score, document)} <Chip>{score.name}</Chip>
        </button>
      ))}
      <Button
        icon={Plus}
        look="quiet"
        className="justify-self-start"
        onClick={() => {
          const score = freshScore(document, [question]);
          edit(addScore(score));
          look({ selected: { kind: "score", score: score.id } });
        }}
      >
        Score of it
      </Button>
    </Section>
  );
}

/** What a score is made of, in few words. */
export function scoreInWords(score: Score, document: StudyDocument): string {
  const names = [...new Set(score.from.map(({ question }) => questionById(document)(question)?.name ?? "gone"))];
  const listed =
    names.length > 3 ? `${names.slice(0, 2).join(", ")} and ${names.length - 2} more` : names.join(" and ");
  const word = scoresInWords[score.of].replace(/^./, (letter) => letter.toUpperCase());
  return `${word} of ${listed || "nothing yet"}, if at least ${score.atLeast} ${score.atLeast === 1 ? "is" : "are"} there, as`;
}
