import { SlidersHorizontal } from "lucide-react";
import type { SliderItem } from "~/core/items/slider/slider";
import { Letters } from "../letters";
import { Switch } from "~/app/components/fields";
import { BoundText, PlainNumber, type ItemSettings } from "../item-fields";

const Fields: ItemSettings<SliderItem>["Fields"] = ({ item, set, ...near }) => (
  <>
    <PlainNumber
      says="From"
      value={item.from}
      onChange={(from) => set({ from, to: Math.max(item.to, from + item.step) }, "from")}
    />
    <PlainNumber
      says="To"
      value={item.to}
      onChange={(to) => set({ to, from: Math.min(item.from, to - item.step) }, "to")}
    />
    <PlainNumber says="In steps of" value={item.step} onChange={(step) => set({ step }, "step")} least={0.000001} />
    <BoundText
      near={near}
      says="Left end"
      value={item.leftLabel}
      onChange={(leftLabel) => set({ leftLabel }, "left")}
      constant=""
    />
    <BoundText
      near={near}
      says="Right end"
      value={item.rightLabel}
      onChange={(rightLabel) => set({ rightLabel }, "right")}
      constant=""
    />
    <Switch
      label="Mark"
      means="none before the first touch"
      checked={item.start === null}
      onChange={(on) => set({ start: on ? null : (item.from + item.to) / 2 })}
    />
    {item.start !== null && (
      <PlainNumber says="It starts at" value={item.start} onChange={(start) => set({ start }, "start")} />
    )}
    <Letters item={item} set={set} near={near} />
  </>
);

export const settings: ItemSettings<SliderItem> = { icon: SlidersHorizontal, title: "slider", Fields };
