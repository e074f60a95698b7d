import { Type } from "lucide-react";
import type { TextItem } from "~/core/items/text/text";
import { FontField } from "../font-field";
import { TextEditor } from "../text-editor";
import { ChoiceLine } from "~/app/components/fields";
import { BoundColor, BoundNumber, PlainNumber, type ItemSettings } from "../item-fields";

const Fields: ItemSettings<TextItem>["Fields"] = ({ item, set, ...near }) => (
  <>
    <TextEditor
      value={item.text}
      onChange={(text) => set({ text }, "text")}
      block={near.block}
      label={`Text of ${item.name}`}
      small
    />
    <FontField {...near} value={item.font} onChange={(font) => set({ font })} />
    <BoundNumber
      near={near}
      says="Letters"
      label="letter size in stage units"
      value={item.fontSize}
      onChange={(fontSize) => set({ fontSize }, "size")}
      constant={6}
      least={0.01}
      suffix="u"
    />
    <BoundColor
      near={near}
      says="Colour"
      value={item.color}
      onChange={(color) => set({ color }, "colour")}
      constant="#17211e"
    />
    <ChoiceLine
      says="Weight"
      value={item.weight}
      options={[
        ["regular", "regular"],
        ["bold", "bold"],
      ]}
      onChange={(weight) => set({ weight })}
    />
    <ChoiceLine
      says="Lines"
      value={item.align}
      options={[
        ["left", "from the left"],
        ["center", "centred"],
        ["right", "to the right"],
      ]}
      onChange={(align) => set({ align })}
    />
    <ChoiceLine
      says="Runs"
      value={item.direction}
      options={[
        ["auto", "as its script does"],
        ["left-to-right", "left to right"],
        ["right-to-left", "right to left"],
      ]}
      onChange={(direction) => set({ direction })}
    />
    <PlainNumber
      says="Spacing"
      label="Line spacing, as a multiple of the letter size"
      value={item.lineSpacing}
      onChange={(lineSpacing) => set({ lineSpacing }, "spacing")}
      least={0.5}
      suffix="×"
    />
    <BoundNumber
      near={near}
      says="Wrap at"
      label="width at which lines wrap"
      value={item.width}
      onChange={(width) => set({ width }, "width")}
      constant={80}
      least={0.01}
      suffix="u"
    />
  </>
);

export const settings: ItemSettings<TextItem> = { icon: Type, title: "text", Fields };
