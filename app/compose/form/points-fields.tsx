import { ChoiceLine, NumberField, Property, Section, Switch, TextField } from "~/app/components/fields";
import { ends, numbersOf } from "~/core/questions/points";

type Points = { points: number; from: number; labels: string[]; numbers: boolean; apart?: string | undefined };

/** How many points there are, from which number, and what stands at them. */
export function PointsFields({
  question,
  set,
}: {
  question: Points;
  set: (change: Partial<Points>, merge?: string) => void;
}) {
  const { points, from, labels, numbers, apart } = question;
  const labelAt = (index: number) => labels[index] ?? "";
  const isAll = labels.slice(1, -1).some((label) => label !== "");
  const relabel = (index: number, label: string) =>
    set({ labels: Array.from({ length: points }, (_, at) => (at === index ? label : labelAt(at))) }, `label ${index}`);
  return (
    <Section title="Points">
      <Property label="Points">
        <NumberField
          label="Points"
          value={points}
          whole
          least={2}
          onChange={(count) => set({ points: count, labels: ends(count, labelAt(0), labels.at(-1) ?? "") }, "points")}
        />
        <span className="shrink-0 text-sm text-muted">from</span>
        <NumberField
          label="Number of the first point"
          value={from}
          whole
          onChange={(first) => set({ from: first }, "from")}
        />
      </Property>
      <ChoiceLine
        says="Words at"
        value={isAll ? "all" : "ends"}
        options={[
          ["ends", "the ends only"],
          ["all", "every point"],
        ]}
        onChange={(where) =>
          set({
            labels:
              where === "all"
                ? numbersOf(question).map((number, index) => labelAt(index) || String(number))
                : ends(points, labelAt(0), labels.at(-1) ?? ""),
          })
        }
      />
      {isAll ? (
        numbersOf(question).map((number, index) => (
          <Property key={number} label={String(number)}>
            <TextField
              label={`Words at ${number}`}
              value={labelAt(index)}
              onChange={(label) => relabel(index, label)}
            />
          </Property>
        ))
      ) : (
        <Property label="Ends say">
          <TextField label="Words at the first point" value={labelAt(0)} onChange={(label) => relabel(0, label)} />
          <TextField
            label="Words at the last point"
            value={labels.at(-1) ?? ""}
            onChange={(label) => relabel(points - 1, label)}
          />
        </Property>
      )}
      <Switch label="Numbers" means="where no words stand" checked={numbers} onChange={(on) => set({ numbers: on })} />
      <Switch
        label="Apart"
        means="a choice beside the points"
        checked={apart !== undefined}
        onChange={(on) => set({ apart: on ? "does not apply" : undefined })}
      />
      {apart !== undefined && (
        <Property label="">
          <TextField
            label="Words of the choice apart"
            value={apart}
            onChange={(words) => set({ apart: words }, "apart")}
            problem={(words) => (words.trim() ? null : "Type what participants read.")}
          />
        </Property>
      )}
    </Section>
  );
}
