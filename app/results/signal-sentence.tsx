import { SentenceChoice } from "~/app/components/sentence";
import { ofDetection } from "~/core/stats/measures";
import type { Measured } from "~/server/results/measured";
import type { Change } from "./result-views";

type Signal = NonNullable<Measured["signal"]>;

/** Which level of which column is the signal, as words of a sentence. */
export function SignalChoice({
  signal,
  signals,
  set,
}: {
  signal: Signal;
  signals: Measured["signals"];
  set: (signal: Signal) => void;
}) {
  const levelsOf = (column: string) => signals.find((each) => each.column === column)?.levels ?? [];
  return (
    <>
      {", the signal being "}
      <SentenceChoice
        label="Signal"
        value={signal.level}
        options={levelsOf(signal.column).map((level) => [level, level || "(empty)"] as const)}
        onChange={(level) => set({ ...signal, level })}
      />
      {" of "}
      <SentenceChoice
        label="Column of the signal"
        value={signal.column}
        options={signals.map(({ column }) => [column, column] as const)}
        onChange={(column) => set({ column, level: levelsOf(column)[0] ?? "" })}
      />
    </>
  );
}

/** The same for a figure, where its measure has to know; nothing else. */
export function SignalSentence({ measured, ask }: { measured: Measured; ask: (change: Change) => void }) {
  const { measure, signal, signals } = measured;
  if (!ofDetection(measure)) return null;
  if (!signal) return <> (for which a column has to tell trials with a signal from those without)</>;
  return (
    <>
      <SignalChoice signal={signal} signals={signals} set={({ column, level }) => ask({ signal: column, is: level })} />
      ,
    </>
  );
}
