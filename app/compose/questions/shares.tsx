import { ChartPie } from "lucide-react";
import { NumberField, Property, TextField } from "~/app/components/fields";
import { OptionList } from "../form/option-list";
import type { QuestionSettings } from "../form/question-kinds";
import { ChoicesSketch, offeredTexts } from "../form/sketch";

export const settings: QuestionSettings<"shares"> = {
  icon: ChartPie,
  Sketch: ({ question }) => <ChoicesSketch texts={offeredTexts(question)} square />,
  Fields: ({ question, set }) => (
    <>
      <Property label="Together">
        <NumberField
          label="Total to share out"
          value={question.total}
          least={0.01}
          onChange={(total) => set({ total }, "total")}
        />
        <TextField label="Unit" value={question.unit} onChange={(unit) => set({ unit }, "unit")} />
      </Property>
      <OptionList question={question} set={({ other: _, ...change }, merge) => set(change, merge)} can={{}} />
    </>
  ),
};
