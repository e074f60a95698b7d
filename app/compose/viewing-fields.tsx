import { NumberField, Property } from "~/app/components/fields";
import { useStudy } from "~/app/editing/use-study";
import { setSettings } from "~/core/design/edits/study";
import type { Settings } from "~/core/design/settings";

/** From how far the stage is seen, and how large it is there. */
export function ViewingFields({ viewing }: { viewing: NonNullable<Settings["viewing"]> }) {
  const { edit } = useStudy();
  return (
    <Property label="Seen from">
      <NumberField
        label="Viewing distance in centimetres"
        value={viewing.distanceCm}
        least={0.01}
        suffix="cm"
        onChange={(distanceCm) => edit(setSettings({ viewing: { ...viewing, distanceCm } }), "distance")}
      />
      <NumberField
        label="Shorter side of the stage in centimetres"
        prefix="↕"
        value={viewing.shorterSideCm}
        least={0.01}
        suffix="cm"
        onChange={(shorterSideCm) => edit(setSettings({ viewing: { ...viewing, shorterSideCm } }), "side")}
      />
    </Property>
  );
}
