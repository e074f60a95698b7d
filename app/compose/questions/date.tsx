import { CalendarDays } from "lucide-react";
import { Property, TextField } from "~/app/components/fields";
import { isDay } from "~/core/questions/date/date";
import type { QuestionSettings } from "../form/question-kinds";
import { FieldSketch } from "../form/sketch";

const problem = (text: string) => (text === "" || isDay(text) ? null : "Write a day such as 2026-05-14, or nothing.");

export const settings: QuestionSettings<"date"> = {
  icon: CalendarDays,
  Sketch: FieldSketch,
  Fields: ({ question, set }) => (
    <>
      <Property label="Earliest">
        <TextField
          label="Earliest day"
          value={question.earliest ?? ""}
          problem={problem}
          onChange={(day) => set({ earliest: day || undefined }, "earliest")}
        />
      </Property>
      <Property label="Latest">
        <TextField
          label="Latest day"
          value={question.latest ?? ""}
          problem={problem}
          onChange={(day) => set({ latest: day || undefined }, "latest")}
        />
      </Property>
    </>
  ),
};
