import { mediaOfColumn } from "~/core/design/cells";
import type { LucideIcon } from "lucide-react";
import type { ReactNode } from "react";
import { MediaPicker } from "~/app/media/media-picker";
import type { MediaKind } from "~/core/media/types";
import { isBinding, type Bindable, type Scalar } from "~/core/values/ref";
import type { Block } from "~/core/design/block";
import type { Item } from "~/core/items/registry";
import type { Context } from "~/core/values/context";
import { ColorField, NumberField, Property, TextField } from "~/app/components/fields";
import { BindableControl } from "./bindable";

/** What the fields of one kind of item are given: the item, where it stands, and how to change it. */
export type FieldsProps<T extends Item> = {
  item: T;
  block: Block;
  context: Context;
  set: (change: Partial<T>, merge?: string) => void;
};
/** How a kind of item is offered, and what the margin asks of it. */
export type ItemSettings<T extends Item> = {
  icon: LucideIcon;
  title: string;
  Fields: (props: FieldsProps<T>) => ReactNode;
};

type Near = { block: Block; context: Context };
type Bound<T extends Scalar> = {
  near: Near;
  says: string;
  /** What it is called where the line's own name is too short. */
  label?: string;
  value: Bindable<T>;
  onChange: (value: Bindable<T>) => void;
  constant: T;
};

export const BoundNumber = ({
  near,
  says,
  label = says.toLowerCase(),
  least = -Infinity,
  suffix,
  ...rest
}: Bound<number> & { least?: number; suffix?: string }) => (
  <Property label={says}>
    <BindableControl label={label.split(/ in |, /)[0] ?? label} {...near} {...rest}>
      {(value, change) => (
        <NumberField
          label={label.replace(/^./, (letter) => letter.toUpperCase())}
          value={value}
          onChange={change}
          least={least}
          {...(suffix ? { suffix } : {})}
        />
      )}
    </BindableControl>
  </Property>
);

export const BoundColor = ({ near, says, label = says.toLowerCase(), ...rest }: Bound<string>) => (
  <Property label={says}>
    <BindableControl label={label.split(/ in |, /)[0] ?? label} {...near} {...rest}>
      {(value, change) => (
        <ColorField label={label.replace(/^./, (letter) => letter.toUpperCase())} value={value} onChange={change} />
      )}
    </BindableControl>
  </Property>
);

export const BoundText = ({ near, says, label = says.toLowerCase(), ...rest }: Bound<string>) => (
  <Property label={says}>
    <BindableControl label={label.split(/ in |, /)[0] ?? label} {...near} {...rest}>
      {(value, change) => (
        <TextField label={label.replace(/^./, (letter) => letter.toUpperCase())} value={value} onChange={change} />
      )}
    </BindableControl>
  </Property>
);

/** A media file of the study, or one named in the table. Taking the binding off leaves the file the shown row has. */
export const BoundMedia = ({
  near,
  kind,
  value,
  onChange,
}: {
  near: Near;
  kind: MediaKind;
  value: Bindable<string>;
  onChange: (value: Bindable<string>) => void;
}) => (
  <Property label={kind.replace(/^./, (letter) => letter.toUpperCase())}>
    <BindableControl
      label={kind}
      {...near}
      value={value}
      onChange={onChange}
      holds={(type) => Object.hasOwn(mediaOfColumn, type) && mediaOfColumn[type as keyof typeof mediaOfColumn] === kind}
      constant={isBinding(value) && "column" in value.from ? String(near.context.values[value.from.column] ?? "") : ""}
    >
      {(file, change) => <MediaPicker kind={kind} value={file} onChange={change} />}
    </BindableControl>
  </Property>
);

/** A number that is the same in every trial. */
export const PlainNumber = ({
  says,
  label = says,
  ...rest
}: {
  says: string;
  label?: string;
  value: number;
  onChange: (value: number) => void;
  least?: number;
  whole?: boolean;
  suffix?: string;
}) => (
  <Property label={says}>
    <NumberField label={label} {...rest} />
  </Property>
);
