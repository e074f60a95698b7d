import { ArrowLeftRight } from "lucide-react";
import { ChoiceLine, TextField } from "~/app/components/fields";
import { newId } from "~/app/editing/new-id";
import { LineList } from "../form/line-list";
import { PointsFields } from "../form/points-fields";
import type { QuestionSettings } from "../form/question-kinds";
import { PointsSketch } from "../form/sketch";

const needed = (text: string) => (text.trim() ? null : "Type what participants read.");

export const settings: QuestionSettings<"pairs"> = {
  icon: ArrowLeftRight,
  Sketch: ({ question }) => (
    <PointsSketch question={question} lines={question.pairs.map(({ left, right }) => `${left} – ${right}`)} />
  ),
  Fields: ({ question, set }) => (
    <>
      <LineList
        title="Pairs"
        one="pair"
        lines={question.pairs}
        onChange={(pairs, merge) => set({ pairs }, merge)}
        fresh={(number) => ({ id: newId("pair"), name: `p${number}`, left: "low", right: "high" })}
        words={(line, change, number) => (
          <span className="flex gap-1">
            <TextField
              label={`Left of pair ${number}`}
              value={line.left}
              onChange={(left) => change({ left })}
              problem={needed}
            />
            <TextField
              label={`Right of pair ${number}`}
              value={line.right}
              onChange={(right) => change({ right })}
              problem={needed}
            />
          </span>
        )}
        pasted={(text, from) =>
          text
            .split(/\r?\n/)
            .flatMap((line) => {
              const [left = "", right = ""] = line.split(/\t|;| – | - /).map((end) => end.trim().slice(0, 200));
              return left && right ? [{ left, right }] : [];
            })
            .slice(0, 100 - from)
            .map((ends, index) => ({ id: newId("pair"), name: `p${from + index + 1}`, ...ends }))
        }
      />
      <ChoiceLine
        says="Shown"
        value={question.order}
        options={[
          ["listed", "as listed"],
          ["shuffled", "shuffled"],
        ]}
        onChange={(order) => set({ order })}
      />
      <PointsFields question={question} set={set} />
    </>
  ),
};
