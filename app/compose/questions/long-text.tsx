import { AlignLeft } from "lucide-react";
import { NumberField, Property, Switch } from "~/app/components/fields";
import { OptionalNumber } from "../form/optional-number";
import type { QuestionSettings } from "../form/question-kinds";
import { FieldSketch } from "../form/sketch";

export const settings: QuestionSettings<"long-text"> = {
  icon: AlignLeft,
  Sketch: FieldSketch,
  Fields: ({ question, set }) => (
    <>
      <OptionalNumber
        says="At least"
        label="Fewest characters"
        value={question.least}
        whole
        least={1}
        onChange={(least) => set({ least }, "least")}
      />
      <OptionalNumber
        says="At most"
        label="Most characters"
        value={question.most}
        whole
        least={1}
        onChange={(most) => set({ most }, "most")}
      />
      <Property label="Lines">
        <NumberField
          label="Lines"
          value={question.lines}
          whole
          least={2}
          onChange={(lines) => set({ lines }, "lines")}
        />
      </Property>
      <Switch
        label="Counter"
        means="shown while it is typed"
        checked={question.counts}
        onChange={(counts) => set({ counts })}
      />
    </>
  ),
};
