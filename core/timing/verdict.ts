import type { Display } from "../records/log";
import type { Spread, TimingReport } from "./report";

const count = (value: number) => value.toLocaleString("en");
/** A share in per cent that says 100 only where it is all. */
export const shareInWords = (part: number, of: number): string =>
  of === 0 ? "none" : part === of ? "100 %" : `${(Math.floor((part / of) * 1000) / 10).toFixed(1)} %`;

/** The report in plain sentences: how many scenes were exact, by how much the others were off, and where they lie. */
export function verdict({
  count: all,
  exact,
  early,
  lateByOne,
  lateByMore,
  sessions,
  uncounted,
  unframed,
  interrupted,
}: TimingReport): string[] {
  const aside = [
    ...(unframed === null ? [] : [variableInWords(unframed)]),
    ...(interrupted === 0
      ? []
      : [
          `Left out ${interrupted === 1 ? "is one trial" : `are ${count(interrupted)} trials`} in which the participant looked away or left full screen.`,
        ]),
  ];
  if (all === 0 && aside.length > 0) return aside;
  if (all === 0)
    return [
      uncounted > 0
        ? "These sessions were played before frames were counted; their onsets and durations are in the records."
        : "No scene with a time of its own has been played yet.",
    ];
  const sentences: string[] = [];
  const off: string[] = [];
  if (lateByOne > 0) off.push(`${count(lateByOne)} one frame late`);
  if (lateByMore > 0) off.push(`${count(lateByMore)} later than that`);
  if (early > 0) off.push(`${count(early)} early`);
  const late = lateByOne + lateByMore;
  const [worst] = [...sessions].sort((a, b) => b.late - a.late);
  // One computer that was busy says something else than a little everywhere.
  const isOne = worst !== undefined && sessions.length > 1 && worst.late >= 3 && worst.late > late / 2;
  sentences.push(
    `${shareInWords(exact, all)} of ${count(all)} timed scenes lasted exactly as many frames as planned${off.length > 0 ? `; ${off.join(", ")}` : ""}${
      isOne
        ? `, ${worst.late === late ? "all" : count(worst.late)} of them in the session of participant ${worst.participant}, whose computer was busy or slow`
        : ""
    }.`,
  );
  if (late + early > 0 && lateByMore === 0) sentences.push("None was off by more than one frame.");
  const rates = new Set(
    sessions.flatMap(({ display }) => (display && !display.variable ? [Math.round(1000 / display.refreshMs)] : [])),
  );
  if (rates.size > 0)
    sentences.push(
      `${rates.size === 1 ? "The display ran" : "Displays ran"} at ${[...rates].sort((a, b) => a - b).join(", ")} Hz.`,
    );
  return [...sentences, ...aside];
}

const variableInWords = ({ count: scenes, deviation }: { count: number; deviation: Spread }): string =>
  `${count(scenes)} timed ${scenes === 1 ? "scene was" : "scenes were"} on a display without a fixed refresh, where no number of frames is planned; ${
    scenes === 1 ? "it was" : "they were"
  } off by ${deviation.median.toFixed(1)} ms in the median and ${deviation.largest.toFixed(1)} ms at most.`;

/** How finely the browser's clock stamps inputs and frames, in ms: finer where the page is isolated from others. */
export const clockStepMs = ({ isolated }: Pick<Display, "isolated">): number => (isolated ? 0.005 : 0.1);
