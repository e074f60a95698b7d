import { SquareMousePointer } from "lucide-react";
import type { ButtonItem } from "~/core/items/button/button";
import { Letters } from "../letters";
import { BoundColor, BoundText, type ItemSettings } from "../item-fields";

const Fields: ItemSettings<ButtonItem>["Fields"] = ({ item, set, ...near }) => (
  <>
    <BoundText
      near={near}
      says="Says"
      label="label of the button"
      value={item.label}
      onChange={(label) => set({ label }, "label")}
      constant={item.name}
    />
    <Letters item={item} set={set} near={near} />
    <BoundColor
      near={near}
      says="Fill"
      value={item.fill}
      onChange={(fill) => set({ fill }, "fill")}
      constant="#0e5a4e"
    />
    <BoundColor
      near={near}
      says="Colour"
      value={item.color}
      onChange={(color) => set({ color }, "colour")}
      constant="#ffffff"
    />
  </>
);

export const settings: ItemSettings<ButtonItem> = { icon: SquareMousePointer, title: "button", Fields };
