import { AudioWaveform } from "lucide-react";
import type { SoundItem, SoundSource } from "~/core/items/sound/sound";
import { Excerpt } from "../excerpt";
import { ChoiceLine, Switch } from "~/app/components/fields";
import { BoundMedia, BoundNumber, PlainNumber, type ItemSettings } from "../item-fields";

const fresh: Record<SoundSource["from"], SoundSource> = {
  file: { from: "file", file: "", startMs: 0, stopMs: null },
  tone: { from: "tone", hertz: 440, ms: 200, rampMs: 10 },
  noise: { from: "noise", ms: 200, rampMs: 10 },
};

const Fields: ItemSettings<SoundItem>["Fields"] = ({ item, set, ...near }) => {
  const { source } = item;
  return (
    <>
      <ChoiceLine
        says="Plays"
        value={source.from}
        options={[
          ["file", "a file"],
          ["tone", "a tone"],
          ["noise", "noise"],
        ]}
        onChange={(from) => set({ source: fresh[from] })}
      />
      {source.from === "file" ? (
        <>
          <BoundMedia
            near={near}
            kind="sound"
            value={source.file}
            onChange={(file) => set({ source: { ...source, file } })}
          />
          <Excerpt excerpt={source} onChange={(change) => set({ source: { ...source, ...change } }, "excerpt")} />
        </>
      ) : (
        <>
          {source.from === "tone" && (
            <BoundNumber
              near={near}
              says="Frequency"
              label="frequency in hertz"
              value={source.hertz}
              onChange={(hertz) => set({ source: { ...source, hertz } }, "hertz")}
              constant={440}
              least={0.01}
              suffix="Hz"
            />
          )}
          <BoundNumber
            near={near}
            says="Length"
            label="length in milliseconds"
            value={source.ms}
            onChange={(ms) => set({ source: { ...source, ms } }, "length")}
            constant={200}
            least={0}
            suffix="ms"
          />
          <PlainNumber
            says="Ramps"
            label="Rise and fall in milliseconds"
            value={source.rampMs}
            onChange={(rampMs) => set({ source: { ...source, rampMs } }, "ramps")}
            least={0}
            suffix="ms"
          />
        </>
      )}
      <BoundNumber
        near={near}
        says="Volume"
        label="volume in per cent"
        value={item.volume}
        onChange={(volume) => set({ volume }, "volume")}
        constant={50}
        least={0}
        suffix="%"
      />
      <BoundNumber
        near={near}
        says="Balance"
        label="balance, −100 left to 100 right"
        value={item.balance}
        onChange={(balance) => set({ balance }, "balance")}
        constant={0}
        least={-100}
      />
      <Switch label="Repeats" means="until its scene ends" checked={item.loop} onChange={(loop) => set({ loop })} />
    </>
  );
};

export const settings: ItemSettings<SoundItem> = { icon: AudioWaveform, title: "sound", Fields };
