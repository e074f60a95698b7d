import { Hash } from "lucide-react";
import { NumberField, Property, TextField } from "~/app/components/fields";
import { OptionalNumber } from "../form/optional-number";
import type { QuestionSettings } from "../form/question-kinds";
import { FieldSketch } from "../form/sketch";

export const settings: QuestionSettings<"number"> = {
  icon: Hash,
  Sketch: FieldSketch,
  Fields: ({ question, set }) => (
    <>
      <OptionalNumber says="At least" value={question.least} onChange={(least) => set({ least }, "least")} />
      <OptionalNumber says="At most" value={question.most} onChange={(most) => set({ most }, "most")} />
      <Property label="Decimals">
        <NumberField
          label="Decimals"
          value={question.decimals}
          whole
          least={0}
          onChange={(decimals) => set({ decimals }, "decimals")}
        />
      </Property>
      <Property label="Unit">
        <TextField label="Unit" value={question.unit} onChange={(unit) => set({ unit }, "unit")} />
      </Property>
      <OptionalNumber
        says="Right"
        label="Right answer"
        value={question.right}
        onChange={(right) => set({ right }, "right")}
      />
    </>
  ),
};
