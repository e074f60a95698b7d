import { Redo, X } from "lucide-react";
import { Button, IconButton } from "~/app/components/button";
import { Sentence, SentenceChoice, SentenceNumber, SentenceText } from "~/app/components/sentence";
import { useStudy } from "~/app/editing/use-study";
import type { Block } from "~/core/design/block";
import { setOrder } from "~/core/design/edits/parts";
import type { Again } from "~/core/design/trial-order";

const wrongAtTheEnd: Again = { rightTimes: 1, inARow: false, gaps: [], most: 3 };
const spaced: Again["gaps"] = [1, 3, 7];

const howOften = ["right", "right twice", "right three times", "right four times", "right five times"];
const howMany = (index: number) => howOften[index] ?? `right ${index + 1} times`;

/** Trials that come again until they were right often enough, as one sentence. */
export function AgainSentence({ block }: { block: Block }) {
  const { edit } = useStudy();
  const { again } = block.order;
  const set = (next: Again | undefined) => edit(setOrder(block.id, { again: next }), `again ${block.id}`);
  if (!again)
    return (
      <div className="max-w-[68ch]">
        <p className="mb-2 text-muted">
          Trials can come again until each was right: wrong ones at the end, or all of them until they were right often
          enough.
        </p>
        <Button icon={Redo} onClick={() => set(wrongAtTheEnd)}>
          Let wrong trials come again
        </Button>
      </div>
    );
  const { rightTimes, inARow, gaps, most } = again;
  const when = gaps.length === 0 ? "end" : gaps.length === 1 ? "after" : "spaced";
  return (
    <div className="max-w-[80ch]">
      <Sentence>
        Each trial comes again until it was{" "}
        <SentenceChoice
          label="How often right"
          value={String(rightTimes)}
          options={Array.from(
            { length: Math.max(8, rightTimes) },
            (_, index) => [String(index + 1), howMany(index)] as const,
          )}
          onChange={(count) => set({ ...again, rightTimes: Number(count), most: Math.max(most, Number(count) + 1) })}
        />
        {rightTimes > 1 && (
          <>
            {" "}
            <SentenceChoice
              label="In all or in a row"
              value={inARow ? "row" : "all"}
              options={[
                ["all", "in all"],
                ["row", "in a row"],
              ]}
              onChange={(how) => set({ ...again, inARow: how === "row" })}
            />
          </>
        )}
        , and comes{" "}
        <SentenceChoice
          label="When it comes again"
          value={when}
          options={[
            ["end", "at the end of the block"],
            ["after", "after so many others:"],
            ["spaced", "after more and more others, the more often it was right:"],
          ]}
          onChange={(how) =>
            set(
              how === "spaced"
                ? { ...again, gaps: spaced, rightTimes: Math.max(3, rightTimes), most: Math.max(8, most) }
                : { ...again, gaps: how === "end" ? [] : [gaps[0] ?? 3] },
            )
          }
        />
        {when !== "end" && (
          <>
            {" "}
            <SentenceText
              label="Other trials between"
              value={gaps.join(", ")}
              problem={(text) => (gapsIn(text) ? null : "Whole numbers up to 1000, with commas between, at most 10.")}
              onChange={(text) => set({ ...again, gaps: gapsIn(text) ?? gaps })}
            />
          </>
        )}
        ; it is shown at most{" "}
        <SentenceNumber
          label="Shown at most"
          value={most}
          least={2}
          most={100}
          whole
          onChange={(next) => set({ ...again, most: next })}
        />{" "}
        times.
        <span className="ml-2 align-middle">
          <IconButton icon={X} label="No trial comes again" onClick={() => set(undefined)} />
        </span>
      </Sentence>
      <p className="mt-1 text-sm text-muted">
        Missed trials count as wrong. Each showing has a row of its own in the data; the first is what is analysed.
      </p>
    </div>
  );
}

function gapsIn(text: string): number[] | null {
  const gaps = text.split(/[,;]/).map((each) => (each.trim() === "" ? NaN : Number(each.trim())));
  return gaps.length <= 10 && gaps.every((gap) => Number.isInteger(gap) && gap >= 0 && gap <= 1000) ? gaps : null;
}
