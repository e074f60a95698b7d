import type { Fit, ImageItem } from "~/core/design/types";
import { ChoiceLine, BindableControl, Choice, Property, Switch } from "../property";
import { BoundMedia, BoundNumber, type Fields } from "./fields";

export const fits: readonly (readonly [Fit, string])[] = [
  ["inside", "whole, inside its box"],
  ["cover", "fills its box, cropped"],
  ["stretch", "stretched to its box"],
  ["stretch-across", "stretched across only"],
  ["stretch-upright", "stretched upright only"],
];

export const ImageFields: Fields<ImageItem> = ({ item, set, ...near }) => (
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
