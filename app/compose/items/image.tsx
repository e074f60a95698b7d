import { Image } from "lucide-react";
import type { ImageItem } from "~/core/items/image/image";
import { fits } from "../fits";
import { ChoiceLine, Choice, Property, Switch } from "~/app/components/fields";
import { BindableControl } from "../bindable";
import { BoundMedia, BoundNumber, type ItemSettings } from "../item-fields";

const Fields: ItemSettings<ImageItem>["Fields"] = ({ item, set, ...near }) => (
  <>
    <BoundMedia near={near} kind="picture" value={item.picture} onChange={(picture) => set({ picture })} />
    <ChoiceLine says="Fit" value={item.fit} options={fits} onChange={(fit) => set({ fit })} />
    <Property label="Faces">
      <BindableControl
        label="which way it faces"
        {...near}
        value={item.faces}
        onChange={(faces) => set({ faces })}
        constant="right"
      >
        {(value, change) => (
          <Choice
            label="Faces"
            value={value}
            options={[
              ["right", "right, as drawn"],
              ["left", "left, mirrored"],
            ]}
            onChange={change}
          />
        )}
      </BindableControl>
    </Property>
    <Switch
      label="Flipped"
      means="upside down"
      checked={item.upsideDown}
      onChange={(upsideDown) => set({ upsideDown })}
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

export const settings: ItemSettings<ImageItem> = { icon: Image, title: "image", Fields };
