import { Switch } from "~/app/components/fields";
import { PlainNumber } from "./item-fields";

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
