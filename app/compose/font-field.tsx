import { Choice, Property } from "~/app/components/fields";
import { useStudy } from "~/app/editing/use-study";
import { AddFile } from "~/app/media/add-file";
import type { Block } from "~/core/design/block";
import { mediaKind } from "~/core/media/types";
import type { Context } from "~/core/values/context";
import { fontCalled, shippedFonts, type ShippedFont } from "~/core/values/fonts";
import type { Bindable } from "~/core/values/ref";
import { BindableControl } from "./bindable";

const inWords: Record<ShippedFont, string> = {
  "Atkinson Hyperlegible Next": "Atkinson Hyperlegible Next",
  Newsreader: "Newsreader",
  "JetBrains Mono": "JetBrains Mono",
  "sans-serif": "sans serif, from the computer",
  serif: "serif, from the computer",
  monospace: "monospaced, from the computer",
};

/** A font that ships, one from this computer, or one that a column or group value names. */
export const FontField = ({
  value,
  onChange,
  block,
  context,
}: {
  value: Bindable<string>;
  onChange: (font: Bindable<string>) => void;
  block: Block | null;
  context: Context;
}) => (
  <Property label="Font">
    <BindableControl
      label="font"
      value={value}
      onChange={onChange}
      block={block}
      context={context}
      constant={shippedFonts[0] as string}
    >
      {(font, change) => <FontChoice value={font} onChange={change} />}
    </BindableControl>
  </Property>
);

function FontChoice({ value, onChange }: { value: string; onChange: (font: string) => void }) {
  const { document } = useStudy();
  const files = document.media.filter(({ mime }) => mediaKind(mime) === "font");
  const isKnown = fontCalled(value, document.media) !== null;
  return (
    <>
      <Choice
        label="Font"
        value={value}
        options={[
          ...(isKnown ? [] : [[value, `missing: ${value}`] as [string, string]]),
          ...shippedFonts.map((font): [string, string] => [font, inWords[font]]),
          ...files.map(({ id, name }): [string, string] => [id, name]),
        ]}
        onChange={onChange}
      />
      <AddFile kind="font" onAdded={onChange} />
    </>
  );
}
