import { Waves } from "lucide-react";
import { useStudy } from "~/app/editing/use-study";
import type { GratingItem } from "~/core/items/grating/grating";
import { unitsPerDegree } from "~/core/design/visual-angle";
import { resolveNumber } from "~/core/values/resolve";
import { ChoiceLine, NumberField, Property } from "~/app/components/fields";
import { BoundNumber, type ItemSettings } from "../item-fields";

const Fields: ItemSettings<GratingItem>["Fields"] = ({ item, set, ...near }) => {
  const { document } = useStudy();
  const perDegree = unitsPerDegree(document.settings.viewing);
  const frequency = resolveNumber(item.frequency, near.context) ?? 0;
  return (
    <>
      <ChoiceLine
        says="Wave"
        value={item.wave}
        options={[
          ["sine", "sine"],
          ["square", "square"],
        ]}
        onChange={(wave) => set({ wave })}
      />
      <ChoiceLine
        says="Envelope"
        value={item.envelope}
        options={[
          ["gaussian", "Gaussian, fades out"],
          ["circle", "circle"],
          ["none", "none, a rectangle"],
        ]}
        onChange={(envelope) => set({ envelope })}
      />
      <BoundNumber
        near={near}
        says="Frequency"
        label="cycles per stage unit"
        value={item.frequency}
        onChange={(next) => set({ frequency: next }, "frequency")}
        constant={0.3}
        least={0.0001}
        suffix="/u"
      />
      {perDegree !== null && (
        <Property label="">
          <NumberField
            label="Cycles per degree"
            value={Math.round(frequency * perDegree * 1000) / 1000}
            onChange={(cycles) =>
              set({ frequency: Math.round((cycles / perDegree) * 1_000_000) / 1_000_000 }, "frequency")
            }
            least={0.001}
            suffix="/°"
          />
        </Property>
      )}
      <BoundNumber
        near={near}
        says="Phase"
        label="phase in degrees of a cycle"
        value={item.phase}
        onChange={(phase) => set({ phase }, "phase")}
        constant={0}
        suffix="°"
      />
      <BoundNumber
        near={near}
        says="Contrast"
        label="contrast in per cent"
        value={item.contrast}
        onChange={(contrast) => set({ contrast }, "contrast")}
        constant={80}
        least={0}
        suffix="%"
      />
      <BoundNumber
        near={near}
        says="Mean"
        label="mean grey level in per cent"
        value={item.mean}
        onChange={(mean) => set({ mean }, "mean")}
        constant={50}
        least={0}
        suffix="%"
      />
      <BoundNumber
        near={near}
        says="Drift"
        label="drift in cycles per second"
        value={item.drift}
        onChange={(drift) => set({ drift }, "drift")}
        constant={0}
        suffix="/s"
      />
      <p className="text-xs text-muted">Its orientation is its turn, under Where.</p>
    </>
  );
};

export const settings: ItemSettings<GratingItem> = { icon: Waves, title: "grating", Fields };
