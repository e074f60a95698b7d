import { SentenceChoice } from "~/app/components/sentence";
import { ofDetection } from "~/core/stats/measures";
import type { Measured } from "~/server/results/measured";
import type { Change } from "./result-views";

/** In which trials there was something to detect, where a measure has to know; nothing else. */
export function SignalSentence({ measured, ask }: { measured: Measured; ask: (change: Change) => void }) {
  const { measure, signal, signals } = measured;
  if (!ofDetection(measure)) return null;
  if (!signal) return <> (it needs a column that says in which trials there was something to detect)</>;
  const levels = signals.find(({ column }) => column === signal.column)?.levels ?? [];
  return (
    <>
      {", to detect "}
      <SentenceChoice
        label="Level to detect"
        value={signal.level}
        options={levels.map((level) => [level, level || "(empty)"] as const)}
        onChange={(is) => ask({ signal: signal.column, is })}
      />
      {" of "}
      <SentenceChoice
        label="Column with what is to detect"
        value={signal.column}
        options={signals.map(({ column }) => [column, column] as const)}
        onChange={(column) => ask({ signal: column, is: "" })}
      />
      ,
    </>
  );
}
