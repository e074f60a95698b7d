import { Choice, NumberField, Property, Section, Switch } from "~/app/components/fields";
import { ViewingFields } from "~/app/compose/viewing-fields";
import { useStudy } from "~/app/editing/use-study";
import { setSettings } from "~/core/design/edits/study";
import { newGazeSettings, type GazeSettings as Gaze } from "~/core/design/settings";
import { usualViewing } from "~/core/design/visual-angle";
import { pointCounts, pointCountNames } from "~/core/gaze/point-counts";

const usualCheck = 60;

/** Whether and how it is recorded where participants look. */
export function GazeSettings() {
  const { document, edit } = useStudy();
  const { gaze, viewing } = document.settings;
  const set = (change: Partial<Gaze>, merge?: string) =>
    edit(setSettings({ gaze: { ...(gaze ?? newGazeSettings()), ...change } }), merge);
  return (
    <Section title="Gaze">
      <Switch
        label="Recorded"
        means="where participants look"
        checked={gaze !== undefined}
        onChange={(on) =>
          edit(setSettings(on ? { gaze: newGazeSettings(), viewing: viewing ?? usualViewing } : { gaze: undefined }))
        }
      />
      {gaze && (
        <>
          <Property label="Calibration">
            <Choice
              label="Points of the calibration"
              value={gaze.points}
              options={pointCountNames.map((name) => [
                name,
                `${pointCounts[name]} ${pointCounts[name] === 1 ? "point" : "points"}`,
              ])}
              onChange={(points) => set({ points })}
            />
          </Property>
          <Property label="Target">
            <Choice
              label="Target of the calibration"
              value={gaze.target}
              options={[
                ["still", "a ring that is still"],
                ["shrinking", "a ring that shrinks"],
                ["picture", "a bird, for children"],
              ]}
              onChange={(target) => set({ target })}
            />
          </Property>
          <Property label="Taken">
            <Choice
              label="When a point is taken"
              value={gaze.accepted}
              options={[
                ["by-itself", "when the eyes rest on it"],
                ["by-key", "by the space bar"],
              ]}
              onChange={(accepted) => set({ accepted })}
            />
          </Property>
          <Property label="Off by">
            <NumberField
              label="Degrees by which gaze may be off in the mean"
              value={gaze.worstDegrees}
              least={0.1}
              suffix="° at most"
              onChange={(degrees) => set({ worstDegrees: Math.min(20, degrees) }, "degrees")}
            />
          </Property>
          <Switch
            label="Checked"
            means="again on the way"
            checked={gaze.checkedAfter !== undefined}
            onChange={(on) => set({ checkedAfter: on ? usualCheck : undefined })}
          />
          {gaze.checkedAfter !== undefined && (
            <Property label="After">
              <NumberField
                label="Trials until the calibration is checked again"
                value={gaze.checkedAfter}
                whole
                least={1}
                suffix="trials"
                onChange={(trials) => set({ checkedAfter: Math.min(10_000, trials) }, "checked")}
              />
            </Property>
          )}
          <ViewingFields viewing={viewing ?? usualViewing} />
        </>
      )}
    </Section>
  );
}
