import type { SoundItem, SoundSource } from "~/core/design/types";
import { ChoiceLine, Switch } from "../property";
import { BoundMedia, BoundNumber, PlainNumber, type Fields } from "./fields";

const fresh: Record<SoundSource["from"], SoundSource> = {
  file: { from: "file", file: "", startMs: 0, stopMs: null },
  tone: { from: "tone", hertz: 440, ms: 200, rampMs: 10 },
  noise: { from: "noise", ms: 200, rampMs: 10 },
};

export const SoundFields: Fields<SoundItem> = ({ item, set, ...near }) => {
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

/** From where to where a sound or video file is played. */
export const Excerpt = ({
  excerpt,
  onChange,
}: {
  excerpt: { startMs: number; stopMs: number | null };
  onChange: (change: { startMs?: number; stopMs?: number | null }) => void;
}) => (
  <>
    <PlainNumber
      says="Starts at"
      label="Starts at, in milliseconds of the file"
      value={excerpt.startMs}
      onChange={(startMs) => onChange({ startMs })}
      least={0}
      suffix="ms"
    />
    {excerpt.stopMs === null ? (
      <Switch label="Stops at" means="its end" checked onChange={() => onChange({ stopMs: excerpt.startMs + 1000 })} />
    ) : (
      <>
        <PlainNumber
          says="Stops at"
          label="Stops at, in milliseconds of the file"
          value={excerpt.stopMs}
          onChange={(stopMs) => onChange({ stopMs })}
          least={0}
          suffix="ms"
        />
        <Switch label="" means="at its end" checked={false} onChange={() => onChange({ stopMs: null })} />
      </>
    )}
  </>
);
