import { SquareCheck } from "lucide-react";
import { OptionList } from "../form/option-list";
import { OptionalNumber } from "../form/optional-number";
import type { QuestionSettings } from "../form/question-kinds";
import { ChoicesSketch, offeredTexts } from "../form/sketch";

export const settings: QuestionSettings<"several-of"> = {
  icon: SquareCheck,
  Sketch: ({ question }) => <ChoicesSketch texts={offeredTexts(question)} square />,
  Fields: ({ question, set }) => (
    <>
      <OptionalNumber
        says="At least"
        label="Fewest ticks"
        value={question.least}
        whole
        least={1}
        suffix="ticks"
        onChange={(least) => set({ least }, "least")}
      />
      <OptionalNumber
        says="At most"
        label="Most ticks"
        value={question.most}
        whole
        least={1}
        suffix="ticks"
        onChange={(most) => set({ most }, "most")}
      />
      <OptionList question={question} set={set} can={{ right: true, alone: true, pictures: true, other: true }} />
    </>
  ),
};
