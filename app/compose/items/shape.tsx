import { Shapes } from "lucide-react";
import type { ShapeItem } from "~/core/items/shape/shape";
import { shapeForms } from "../shape-forms";
import { ChoiceLine } from "~/app/components/fields";
import { BoundColor, BoundNumber, type ItemSettings } from "../item-fields";

const Fields: ItemSettings<ShapeItem>["Fields"] = ({ item, set, ...near }) => (
  <>
    <ChoiceLine says="Form" value={item.form} options={shapeForms} onChange={(form) => set({ form })} />
    {(item.form === "polygon" || item.form === "star") && (
      <BoundNumber
        near={near}
        says={item.form === "star" ? "Points" : "Corners"}
        value={item.corners}
        onChange={(corners) => set({ corners }, "corners")}
        constant={5}
        least={2}
      />
    )}
    {item.form === "ring" && (
      <BoundNumber
        near={near}
        says="Gap"
        label="gap in degrees, to the right before it is turned"
        value={item.gap}
        onChange={(gap) => set({ gap }, "gap")}
        constant={29}
        least={0}
        suffix="°"
      />
    )}
    <BoundColor
      near={near}
      says="Fill"
      value={item.fill}
      onChange={(fill) => set({ fill }, "fill")}
      constant="#2e7d8c"
    />
    <BoundColor
      near={near}
      says="Line"
      value={item.line}
      onChange={(line) => set({ line }, "line")}
      constant="#17211e"
    />
    <BoundNumber
      near={near}
      says="Line width"
      label="line width in stage units"
      value={item.lineWidth}
      onChange={(lineWidth) => set({ lineWidth }, "line width")}
      constant={0.5}
      least={0}
      suffix="u"
    />
    <BoundNumber
      near={near}
      says="Opacity"
      label="opacity in per cent"
      value={item.opacity}
      onChange={(opacity) => set({ opacity }, "opacity")}
      constant={100}
      least={0}
      suffix="%"
    />
  </>
);

export const settings: ItemSettings<ShapeItem> = { icon: Shapes, title: "shape", Fields };
