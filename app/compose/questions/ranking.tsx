import { ListOrdered } from "lucide-react";
import { OptionList } from "../form/option-list";
import type { QuestionSettings } from "../form/question-kinds";
import { ChoicesSketch, offeredTexts } from "../form/sketch";

export const settings: QuestionSettings<"ranking"> = {
  icon: ListOrdered,
  Sketch: ({ question }) => <ChoicesSketch texts={offeredTexts(question)} square />,
  Fields: ({ question, set }) => (
    <OptionList question={question} set={({ other: _, ...change }, merge) => set(change, merge)} can={{}} />
  ),
};
