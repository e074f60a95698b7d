import { SlidersHorizontal } from "lucide-react";
import { NumberField, Property, Switch, TextField } from "~/app/components/fields";
import type { QuestionSettings } from "../form/question-kinds";

export const settings: QuestionSettings<"line"> = {
  icon: SlidersHorizontal,
  Sketch: ({ question }) => (
    <div className="flex items-center gap-2 pt-1 text-2xs text-muted">
      {question.left}
      <span aria-hidden="true" className="h-px flex-1 bg-muted" />
      {question.right}
    </div>
  ),
  Fields: ({ question, set }) => (
    <>
      <Property label="From, to">
        <NumberField label="Left end" value={question.from} onChange={(from) => set({ from }, "from")} />
        <NumberField label="Right end" value={question.to} onChange={(to) => set({ to }, "to")} />
      </Property>
      <Property label="Step">
        <NumberField label="Step" value={question.step} least={0.01} onChange={(step) => set({ step }, "step")} />
      </Property>
      <Property label="Ends say">
        <TextField label="Words at the left end" value={question.left} onChange={(left) => set({ left }, "left")} />
        <TextField
          label="Words at the right end"
          value={question.right}
          onChange={(right) => set({ right }, "right")}
        />
      </Property>
      <Property label="Middle">
        <TextField
          label="Words in the middle"
          value={question.middle}
          onChange={(middle) => set({ middle }, "middle")}
        />
      </Property>
      <Switch
        label="Value"
        means="shown while it is marked"
        checked={question.showsValue}
        onChange={(showsValue) => set({ showsValue })}
      />
    </>
  ),
};
