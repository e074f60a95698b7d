import { PenLine } from "lucide-react";
import { Property, TextField } from "~/app/components/fields";
import { OptionalNumber } from "../form/optional-number";
import type { QuestionSettings } from "../form/question-kinds";
import { FieldSketch } from "../form/sketch";

export const settings: QuestionSettings<"short-text"> = {
  icon: PenLine,
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
      <Property label="Right">
        <TextField
          label="Right answers, separated by semicolons"
          value={(question.right ?? []).join("; ")}
          onChange={(text) => {
            const right = text
              .split(";")
              .map((each) => each.trim())
              .filter(Boolean);
            set({ right: right.length > 0 ? right : undefined }, "right");
          }}
        />
      </Property>
      <p className="text-xs text-muted">
        Several right answers are separated by semicolons; case and outer blanks do not matter.
      </p>
    </>
  ),
};
