import { IconButton } from "~/app/components/button";
import { Sentence, SentenceChoice } from "~/app/components/sentence";
import { useStored } from "~/app/editing/use-stored";
import { useStudy } from "~/app/editing/use-study";
import { X } from "lucide-react";
import { mostWhere, trialScore, type TrialScore } from "~/core/persons/trial-score";
import { hasShape } from "~/core/shape/shape";
import { measureNames, measures, ofDetection } from "~/core/stats/measures";
import type { PersonsChange } from "~/core/persons/change";
import type { KeptScore } from "~/server/persons";
import type { ScoresAnswer } from "~/server/results/scores";
import { SignalChoice } from "../signal-sentence";

type Levels = ScoresAnswer["levels"];
const levelOptions = (levels: Levels, column: string) =>
  (levels.find((each) => each.column === column)?.levels ?? []).map((level) => [level, level || "(empty)"] as const);

/** A score to begin with: mean time, contrasted by the first column that has levels. */
export function freshScore(levels: Levels): TrialScore {
  const factor = levels.find((each) => each.levels.length > 1);
  // What comes first is mostly what others are compared with.
  const [less, of] = factor?.levels ?? [];
  return {
    ...{ measure: "mean", numbers: null, signal: null, where: [] },
    contrast: factor && of !== undefined && less !== undefined ? { column: factor.column, of, less } : null,
  };
}

/** A score over trials as a sentence, whose underlined words are its choices. What is changed is stored at once. */
export function ScoreSentence({ kept, levels, numbers }: { kept: KeptScore; levels: Levels; numbers: string[] }) {
  const { code } = useStudy();
  const {
    value: score,
    set,
    isSaving,
  } = useStored({
    stored: kept.score,
    address: `/studies/${code}/scores`,
    changeOf: (changed: TrialScore) =>
      ({ do: "save-score", id: kept.id, version: kept.version, score: changed }) satisfies PersonsChange,
    fits: (changed) => hasShape(trialScore, changed),
    lost: `The score “${kept.name}” could not be stored.`,
  });
  const { measure, numbers: of, signal, where, contrast } = score;
  const change = (changed: Partial<TrialScore>) => set({ ...score, ...changed });
  const usable = levels.filter((each) => each.levels.length > 0 && each.levels.length <= 60);
  const first = (column: string) => levels.find((each) => each.column === column)?.levels ?? [];
  const setMeasure = (next: string) => {
    const column = next.startsWith("column:") ? next.slice("column:".length) : null;
    const named = measureNames.find((each) => each === next) ?? "mean";
    const chosen = column === null ? named : "column";
    const asked = usable[0];
    change({
      ...{ measure: chosen, numbers: column },
      signal: ofDetection(chosen) ? (signal ?? { column: asked?.column ?? "", level: asked?.levels[0] ?? "" }) : null,
    });
  };
  const setContrast = (column: string) => {
    const [own, less] = first(column);
    change({ contrast: column === "" || own === undefined ? null : { column, of: own, less: less ?? own } });
  };
  return (
    <div className="flex items-start justify-between gap-3">
      <Sentence>
        <b>{kept.name}</b> is the{" "}
        <SentenceChoice
          label="What the score is"
          value={measure === "column" ? `column:${of ?? ""}` : measure}
          options={[
            ...measureNames
              .filter((each) => each !== "column")
              .map((each) => [each as string, measures[each].called] as const),
            ...numbers.map((name) => [`column:${name}`, `mean of ${name}`] as const),
          ]}
          onChange={setMeasure}
        />
        {signal && <SignalChoice signal={signal} signals={usable} set={(next) => change({ signal: next })} />}{" "}
        {contrast ? "of trials with " : "of "}
        {contrast && (
          <>
            <SentenceChoice
              label="Level"
              value={contrast.of}
              options={levelOptions(levels, contrast.column)}
              onChange={(level) => change({ contrast: { ...contrast, of: level } })}
            />
            {" less that of trials with "}
            <SentenceChoice
              label="Level that is subtracted"
              value={contrast.less}
              options={levelOptions(levels, contrast.column)}
              onChange={(level) => change({ contrast: { ...contrast, less: level } })}
            />
            {" of "}
          </>
        )}
        <SentenceChoice
          label="Column that is contrasted"
          value={contrast?.column ?? ""}
          options={[
            ["", "all trials"],
            ...usable.filter((each) => each.levels.length > 1).map(({ column }) => [column, column] as const),
          ]}
          onChange={setContrast}
        />
        {where.map(({ column, level }, at) => (
          <span key={at} className="whitespace-nowrap">
            {at === 0 ? ", where " : " and "}
            <SentenceChoice
              label={`Column ${at + 1} of its trials`}
              value={column}
              options={usable.map((each) => [each.column, each.column] as const)}
              onChange={(next) => change({ where: where.with(at, { column: next, level: first(next)[0] ?? "" }) })}
            />
            {" is "}
            <SentenceChoice
              label={`Level ${at + 1} of its trials`}
              value={level}
              options={levelOptions(levels, column)}
              onChange={(next) => change({ where: where.with(at, { column, level: next }) })}
            />
            <IconButton
              icon={X}
              label={`Without condition ${at + 1}`}
              className="!h-5 !w-5 align-middle"
              onClick={() => change({ where: where.toSpliced(at, 1) })}
            />
          </span>
        ))}
        , of each session.
        {where.length < mostWhere && usable[0] && (
          <button
            type="button"
            className="ml-3 font-sans text-sm text-muted hover:text-ink"
            onClick={() =>
              change({ where: [...where, { column: usable[0]?.column ?? "", level: usable[0]?.levels[0] ?? "" }] })
            }
          >
            Only some of the trials
          </button>
        )}
      </Sentence>
      <span role="status" className="text-sm text-muted">
        {isSaving ? "Saving…" : "Saved"}
      </span>
    </div>
  );
}
