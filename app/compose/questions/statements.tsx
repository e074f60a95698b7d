import { Rows3 } from "lucide-react";
import { ChoiceLine, TextField } from "~/app/components/fields";
import { newId } from "~/app/editing/new-id";
import { LineList } from "../form/line-list";
import { PointsFields } from "../form/points-fields";
import type { QuestionSettings } from "../form/question-kinds";
import { PointsSketch } from "../form/sketch";

export const settings: QuestionSettings<"statements"> = {
  icon: Rows3,
  Sketch: ({ question }) => <PointsSketch question={question} lines={question.statements.map(({ text }) => text)} />,
  Fields: ({ question, set }) => (
    <>
      <LineList
        title="Statements"
        one="statement"
        lines={question.statements}
        onChange={(statements, merge) => set({ statements }, merge)}
        fresh={(number) => ({ id: newId("statement"), name: `s${number}`, text: "A statement" })}
        words={(line, change, number) => (
          <TextField
            label={`Statement ${number}`}
            value={line.text}
            onChange={(text) => change({ text })}
            problem={(text) => (text.trim() ? null : "Type what participants read.")}
          />
        )}
        pasted={(text, from) =>
          text
            .split(/\r?\n/)
            .map((line) => line.trim().slice(0, 1000))
            .filter(Boolean)
            .slice(0, 200 - from)
            .map((line, index) => ({ id: newId("statement"), name: `s${from + index + 1}`, text: line }))
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
