import { BadgeCheck } from "lucide-react";
import { Property, TextField } from "~/app/components/fields";
import type { QuestionSettings } from "../form/question-kinds";
import { ChoicesSketch } from "../form/sketch";

export const settings: QuestionSettings<"agree"> = {
  icon: BadgeCheck,
  Sketch: ({ question }) => <ChoicesSketch texts={[question.label]} square />,
  Fields: ({ question, set }) => (
    <Property label="Box says">
      <TextField
        label="What stands beside the box"
        value={question.label}
        onChange={(label) => set({ label }, "label")}
        problem={(label) => (label.trim() ? null : "Type what participants agree to.")}
      />
    </Property>
  ),
};
