import { ListOrdered } from "lucide-react";
import { OptionList } from "../form/option-list";
import type { QuestionSettings } from "../form/question-kinds";

export const settings: QuestionSettings<"ranking"> = {
  icon: ListOrdered,
  Fields: ({ question, set }) => (
    <OptionList question={question} set={({ other: _, ...change }, merge) => set(change, merge)} can={{}} />
  ),
};
