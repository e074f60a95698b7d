import type { ButtonItem, EntryItem, SliderItem } from "~/core/design/types";
import { ChoiceLine, Property, Switch, TextField } from "../property";
import { BoundColor, BoundNumber, BoundText, PlainNumber, type Fields } from "./fields";

const Letters = ({
  item,
  set,
  near,
}: {
  item: ButtonItem | EntryItem | SliderItem;
  set: (change: { fontSize: ButtonItem["fontSize"] }, merge: string) => void;
  near: Parameters<typeof BoundNumber>[0]["near"];
}) => (
  <BoundNumber
    near={near}
    says="Letters"
    label="letter size in stage units"
    value={item.fontSize}
    onChange={(fontSize) => set({ fontSize }, "letters")}
    constant={4}
    least={0.01}
    suffix="u"
  />
);

export const ButtonFields: Fields<ButtonItem> = ({ item, set, ...near }) => (
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

export const EntryFields: Fields<EntryItem> = ({ item, set, ...near }) => (
  <>
    <ChoiceLine
      says="Takes"
      value={item.takes}
      options={[
        ["text", "text"],
        ["number", "a number"],
      ]}
      onChange={(takes) => set({ takes })}
    />
    <ChoiceLine
      says="Lines"
      value={item.lines}
      options={[
        ["one", "one"],
        ["several", "several"],
      ]}
      onChange={(lines) => set({ lines })}
    />
    <PlainNumber
      says="Longest"
      label="Longest text in characters"
      value={item.longest}
      onChange={(longest) => set({ longest }, "longest")}
      least={1}
      whole
    />
    <Property label="Hint">
      <TextField label="Hint" value={item.hint} onChange={(hint) => set({ hint }, "hint")} />
    </Property>
    <Letters item={item} set={set} near={near} />
  </>
);

export const SliderFields: Fields<SliderItem> = ({ item, set, ...near }) => (
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
