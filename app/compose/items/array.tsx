import { ChartScatter } from "lucide-react";
import type { ArrayItem, ElementLook } from "~/core/items/array/array";
import { ChoiceLine, Choice, Property, Section } from "~/app/components/fields";
import { BindableControl } from "../bindable";
import { BoundColor, BoundMedia, BoundNumber, BoundText, PlainNumber, type ItemSettings } from "../item-fields";
import { shapeForms } from "../shape-forms";

const Fields: ItemSettings<ArrayItem>["Fields"] = ({ item, set, ...near }) => (
  <>
    <ChoiceLine
      says="Arranged"
      value={item.arrangement}
      options={[
        ["ring", "on a ring"],
        ["grid", "in cells of a grid"],
        ["scattered", "scattered"],
      ]}
      onChange={(arrangement) => set({ arrangement })}
    />
    <BoundNumber
      near={near}
      says="Elements"
      label="number of elements"
      value={item.count}
      onChange={(count) => set({ count }, "count")}
      constant={8}
      least={0}
    />
    <BoundNumber
      near={near}
      says="Each"
      label="side of an element in stage units"
      value={item.element}
      onChange={(element) => set({ element }, "element")}
      constant={6}
      least={0.01}
      suffix="u"
    />
    {item.arrangement === "grid" && (
      <>
        <PlainNumber
          says="Across"
          label="Cells across"
          value={item.across}
          onChange={(across) => set({ across }, "across")}
          least={1}
          whole
        />
        <PlainNumber
          says="Upright"
          label="Cells upright"
          value={item.upright}
          onChange={(upright) => set({ upright }, "upright")}
          least={1}
          whole
        />
      </>
    )}
    {item.arrangement === "scattered" && (
      <PlainNumber
        says="Apart"
        label="Smallest distance between centres in stage units"
        value={item.distance}
        onChange={(distance) => set({ distance }, "distance")}
        least={0}
        suffix="u"
      />
    )}
    <Property label="Target">
      <BindableControl
        label="whether the target is there"
        {...near}
        value={item.present}
        onChange={(present) => set({ present })}
        constant={true}
      >
        {(value, change) => (
          <Choice
            label="Target is"
            value={value ? "there" : "absent"}
            options={[
              ["there", "there"],
              ["absent", "absent"],
            ]}
            onChange={(each) => change(each === "there")}
          />
        )}
      </BindableControl>
    </Property>
    <ChoiceLine
      says="It may be"
      value={item.targetIn}
      options={[
        ["anywhere", "anywhere"],
        ["left", "in the left half"],
        ["right", "in the right half"],
        ["upper", "in the upper half"],
        ["lower", "in the lower half"],
      ]}
      onChange={(targetIn) => set({ targetIn })}
    />
    <LookFields says="Target" look={item.target} near={near} onChange={(target) => set({ target }, "target")} />
    <LookFields says="All others" look={item.others} near={near} onChange={(others) => set({ others }, "others")} />
  </>
);

const lookForms = [...shapeForms, ["picture", "picture"], ["text", "text"]] as const;

function LookFields({
  says,
  look,
  near,
  onChange,
}: {
  says: string;
  look: ElementLook;
  near: Parameters<typeof BoundText>[0]["near"];
  onChange: (look: ElementLook) => void;
}) {
  const set = (change: Partial<ElementLook>) => onChange({ ...look, ...change });
  const of = says.toLowerCase();
  return (
    <Section title={says}>
      <ChoiceLine says="Form" value={look.form} options={lookForms} onChange={(form) => set({ form })} />
      {look.form === "picture" ? (
        <BoundMedia near={near} kind="picture" value={look.picture} onChange={(picture) => set({ picture })} />
      ) : (
        <BoundColor
          near={near}
          says="Colour"
          label={`colour of ${of}`}
          value={look.color}
          onChange={(color) => set({ color })}
          constant="#2e7d8c"
        />
      )}
      {look.form === "text" && (
        <BoundText
          near={near}
          says="Text"
          label={`text of ${of}`}
          value={look.text}
          onChange={(text) => set({ text })}
          constant="T"
        />
      )}
      <BoundNumber
        near={near}
        says="Turned"
        label={`turn of ${of} in degrees`}
        value={look.turned}
        onChange={(turned) => set({ turned })}
        constant={0}
        suffix="°"
      />
    </Section>
  );
}

export const settings: ItemSettings<ArrayItem> = { icon: ChartScatter, title: "array", Fields };
