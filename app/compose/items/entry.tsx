import { TextCursorInput } from "lucide-react";
import type { EntryItem } from "~/core/items/entry/entry";
import { Letters } from "../letters";
import { ChoiceLine, Property, TextField } from "~/app/components/fields";
import { PlainNumber, type ItemSettings } from "../item-fields";

const Fields: ItemSettings<EntryItem>["Fields"] = ({ item, set, ...near }) => (
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

export const settings: ItemSettings<EntryItem> = { icon: TextCursorInput, title: "entry", Fields };
