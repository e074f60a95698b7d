import { Ruler } from "lucide-react";
import { ChoiceLine } from "~/app/components/fields";
import { PointsFields } from "../form/points-fields";
import type { QuestionSettings } from "../form/question-kinds";
import { PointsSketch } from "../form/sketch";

export const settings: QuestionSettings<"scale"> = {
  icon: Ruler,
  Sketch: PointsSketch,
  Fields: ({ question, set }) => (
    <>
      <PointsFields question={question} set={set} />
      <ChoiceLine
        says="Counts"
        value={question.reversed ? "reversed" : "plain"}
        options={[
          ["plain", "as it stands"],
          ["reversed", "reversed"],
        ]}
        onChange={(counts) => set({ reversed: counts === "reversed" })}
      />
    </>
  ),
};
