import { useState } from "react";
import { Button } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { ChoiceLine, Tick } from "~/app/components/fields";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { addPiece, addScore, newSet } from "~/core/design/edits/page";
import { together } from "~/core/design/edits/edit";
import { namesEverywhere } from "~/core/design/names-in-reach";
import type { Page } from "~/core/design/page";
import { questionsFromList } from "~/core/design/question-list";
import { hasRight } from "~/core/scores/score";
import { sheetFromFile, sheetFromText } from "../table/sheets";
import { OptionalNumber } from "./optional-number";
import { freshScore } from "./scores-of";

const example = "question\toptions\tright\nWhich bird has the longest bill?\tcurlew; dunlin; knot\tcurlew";

/** Questions out of a list that is pasted or read from a file, all asked or some drawn. */
export function ListDialog({
  page,
  open,
  onOpenChange,
}: {
  page: Page;
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  const { document, edit, look } = useStudy();
  const [text, setText] = useState("");
  const [rows, setRows] = useState<string[][] | null>(null);
  const [take, setTake] = useState<number | undefined>(undefined);
  const [order, setOrder] = useState<"listed" | "shuffled">("shuffled");
  const [areOptionsShuffled, setOptionsShuffled] = useState(true);
  const [isScored, setScored] = useState(true);
  const [trouble, setTrouble] = useState<string | null>(null);
  const read = rows ?? sheetFromText(text);
  const { questions, problems } = questionsFromList(read, newId, namesEverywhere(document, null));
  const canScore = questions.some(hasRight);
  const put = () => {
    const asked = questions.map((question) => ({
      ...question,
      order: areOptionsShuffled ? ("shuffled" as const) : ("listed" as const),
    }));
    const set = { ...newSet(newId, "Questions", asked), order, ...(take === undefined ? {} : { take }) };
    const last = page.flow.at(-1)?.id ?? null;
    const score = canScore && isScored ? [addScore(freshScore(document, asked.filter(hasRight)))] : [];
    edit(together(addPiece(page.id, set, last), ...score));
    look({ selected: { kind: "piece", piece: set.id } });
    onOpenChange(false);
    setText("");
    setRows(null);
  };
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      wide
      title="Questions from a list"
      description="One line a question: the question, its options, the right one, its points. Paste it from a spreadsheet, or choose a CSV or Excel file. Options may stand in columns of their own or in one, separated by semicolons; an option marked with * is right."
    >
      <textarea
        aria-label="The list"
        className="field h-44 font-mono !text-xs"
        value={rows ? rows.map((row) => row.join("\t")).join("\n") : text}
        placeholder={example}
        onChange={({ target }) => {
          setRows(null);
          setText(target.value);
        }}
      />
      <label className="text-sm">
        <span className="sr-only">File with the list</span>
        <input
          type="file"
          accept=".csv,.tsv,.txt,.xlsx"
          onChange={({ target }) => {
            const file = target.files?.[0];
            setTrouble(null);
            if (file)
              sheetFromFile(file).then(setRows, (error: unknown) =>
                setTrouble(error instanceof Error ? error.message : "The file could not be read."),
              );
          }}
        />
      </label>
      {trouble && (
        <p role="alert" className="text-sm text-alarm">
          {trouble}
        </p>
      )}
      <p className="text-sm" role="status">
        {questions.length} {questions.length === 1 ? "question" : "questions"}, {questions.filter(hasRight).length} with
        a right answer
      </p>
      {problems.length > 0 && (
        <ul className="max-h-24 overflow-auto text-sm text-chestnut">
          {problems.slice(0, 20).map((problem) => (
            <li key={problem}>{problem}</li>
          ))}
        </ul>
      )}
      <div className="grid max-w-sm gap-1">
        <OptionalNumber
          says="Drawn"
          label="How many are drawn"
          value={take}
          whole
          least={1}
          suffix={`of ${questions.length}`}
          onChange={setTake}
        />
        <ChoiceLine
          says="Shown"
          value={order}
          options={[
            ["shuffled", "shuffled"],
            ["listed", "as listed"],
          ]}
          onChange={setOrder}
        />
        <Tick checked={areOptionsShuffled} onChange={setOptionsShuffled}>
          Shuffle the options of each
        </Tick>
        {canScore && (
          <Tick checked={isScored} onChange={setScored}>
            Make a score of the share right
          </Tick>
        )}
      </div>
      <div className="flex justify-end gap-2">
        <Button onClick={() => onOpenChange(false)}>Cancel</Button>
        <Button look="primary" disabled={questions.length === 0} onClick={put}>
          Add {questions.length} {questions.length === 1 ? "question" : "questions"}
        </Button>
      </div>
    </Dialog>
  );
}
