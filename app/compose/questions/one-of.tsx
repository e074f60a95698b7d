import { CircleDot } from "lucide-react";
import { ChoiceLine } from "~/app/components/fields";
import { OptionList } from "../form/option-list";
import type { QuestionSettings } from "../form/question-kinds";
import { ChoicesSketch, offeredTexts } from "../form/sketch";

export const settings: QuestionSettings<"one-of"> = {
  icon: CircleDot,
  Sketch: ({ question }) => <ChoicesSketch texts={offeredTexts(question)} />,
  Fields: ({ question, set }) => (
    <>
      <ChoiceLine
        says="Looks"
        value={question.layout}
        options={[
          ["list", "one under the other"],
          ["columns", "in columns"],
          ["menu", "a list that unfolds, with search"],
          ["pictures", "as pictures"],
        ]}
        onChange={(layout) => set({ layout })}
      />
      <OptionList question={question} set={set} can={{ right: true, pictures: true, other: true }} />
    </>
  ),
};
