import { SlidersHorizontal, X } from "lucide-react";
import { useId, useState } from "react";
import { Button, IconButton } from "~/app/components/button";
import { TextField } from "~/app/components/fields";
import { Sentence, SentenceChoice, SentenceNumber } from "~/app/components/sentence";
import { useShownRibbon, useStudy } from "~/app/editing/use-study";
import type { StudyDocument } from "~/core/design/document";
import { allRules } from "~/core/design/all-rules";
import { pointsKey } from "~/core/records/rule-bounds";
import { fast } from "~/core/run/rehearsal";
import { textProblem } from "~/core/values/given";
import type { Variable } from "~/core/values/study-values";
import type { Id } from "~/core/values/ref";
import type { RehearsalBody } from "~/server/rehearsals";

/** How the next rehearsal is to be played. */
export type Chosen = {
  /** The part it begins with; null for the start. */
  from: Id | null;
  /** Which sitting it is, from 1. */
  sitting: number;
  pace: "real" | "fast" | "stepwise";
  /** What variables are set to, as texts, by id. */
  values: Readonly<Record<Id, string>>;
};
export const asParticipant: Chosen = { from: null, sitting: 1, pace: "real", values: {} };

/** What can be set by hand: the study's variables, and points where its rules give any. */
export function settable(document: StudyDocument): Pick<Variable, "id" | "name" | "type" | "start">[] {
  const points = { id: pointsKey, name: pointsKey, type: "number" as const, start: 0 };
  const hasPoints = allRules(document).some((rule) =>
    rule.do.some((action) => (action.do === "set" || action.do === "add") && "points" in action.what),
  );
  return [...document.variables, ...(hasPoints ? [points] : [])];
}

/** The trial of the chosen part that the ribbon shows, counted from 1 within it, and how many it has. */
function useChosenTrial(from: Id | null): { trial: number; of: number; first: number } {
  const { view } = useStudy();
  const ribbon = useShownRibbon();
  const ticks = ribbon?.parts.find(({ part }) => part === from)?.ticks;
  if (!ticks) return { trial: 1, of: 0, first: 1 };
  const shown = view.part === from && view.trial !== null ? view.trial - ticks.first + 1 : 1;
  const of = ticks.rows.length;
  return { trial: Math.min(Math.max(1, shown), Math.max(1, of)), of, first: ticks.first };
}

/** What is asked of the server for a rehearsal as it was chosen. */
export function useAsked({ from, sitting, pace, values }: Chosen): RehearsalBody {
  const { view } = useStudy();
  const { trial } = useChosenTrial(from);
  return {
    participant: view.participant,
    ...(sitting === 1 ? {} : { sitting }),
    ...(from === null ? {} : { from: { part: from, trial } }),
    ...(pace === "fast" ? { speed: fast } : {}),
    ...(pace === "stepwise" ? { stepwise: true } : {}),
    values: Object.entries(values),
  };
}

/** From where, how fast and with which values the next rehearsal is played, as a sentence. */
export function HowPlayed({ chosen, onChange }: { chosen: Chosen; onChange: (chosen: Chosen) => void }) {
  const { document, look } = useStudy();
  const ribbon = useShownRibbon();
  const { trial, of, first } = useChosenTrial(chosen.from);
  const [isSetting, setSetting] = useState(false);
  const group = useId();
  const planned = ribbon?.parts ?? [];
  const isPlanned = chosen.from === null || planned.some(({ part }) => part === chosen.from);
  // Another participant may not come to it, which is said when it is to be played.
  const chosenName = chosen.from === null ? "" : (document.parts[chosen.from]?.name ?? "a part that is gone");
  const parts = isPlanned ? planned : [...planned, { part: chosen.from ?? "", name: chosenName }];
  const variables = settable(document);
  const set = Object.keys(chosen.values).length;
  return (
    <div className="mt-2 border-b border-hairline pb-2" data-how-played>
      <div className="flex items-start gap-2">
        <Sentence>
          {document.sittings.length > 1 && (
            <>
              It is{" "}
              <SentenceChoice
                label="Sitting"
                value={String(chosen.sitting)}
                options={document.sittings.map(({ name }, index) => [String(index + 1), name] as const)}
                onChange={(number) => onChange({ ...chosen, sitting: Number(number) })}
              />
              {" and"}
            </>
          )}
          {document.sittings.length > 1 ? " begins" : "It begins"}{" "}
          <SentenceChoice
            label="Begins with"
            value={chosen.from ?? ""}
            options={[["", "at the start"], ...parts.map(({ part, name }) => [part, `with ${name}`] as const)]}
            onChange={(part) => {
              onChange({ ...chosen, from: part || null });
              if (part) look({ part, trial: null });
            }}
          />
          {of > 0 && (
            <>
              {", trial "}
              <SentenceNumber
                label="Trial it begins with"
                value={trial}
                whole
                least={1}
                most={of}
                onChange={(next) => look({ part: chosen.from, trial: first + next - 1 })}
              />
              {` of ${of}`}
            </>
          )}
          {", and is played "}
          <SentenceChoice
            label="Played"
            value={chosen.pace}
            options={[
              ["real", "at real speed"],
              ["fast", "four times as fast"],
              ["stepwise", "trial by trial"],
            ]}
            onChange={(pace) => onChange({ ...chosen, pace })}
          />
          .
        </Sentence>
        {variables.length > 0 && (
          <Button
            icon={SlidersHorizontal}
            look="quiet"
            className="ml-auto"
            aria-expanded={isSetting}
            aria-controls={group}
            onClick={() => setSetting(!isSetting)}
          >
            {set === 0 ? "Set values" : set === 1 ? "1 value set" : `${set} values set`}
          </Button>
        )}
      </div>
      {isSetting && (
        <div id={group} role="group" aria-label="Values it begins with" className="mt-1 grid max-w-md gap-1">
          {variables.map((variable) => {
            const { id, name, start } = variable;
            const without = () => Object.fromEntries(Object.entries(chosen.values).filter(([other]) => other !== id));
            return (
              <div key={id} className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)_28px] items-center gap-2">
                <span className="truncate font-mono text-xs text-sheen">{name}</span>
                <TextField
                  label={`${name} begins with`}
                  value={chosen.values[id] ?? (Array.isArray(start) ? start.join("; ") : String(start ?? ""))}
                  problem={(text) => textProblem(variable, text)}
                  onChange={(text) => onChange({ ...chosen, values: { ...chosen.values, [id]: text } })}
                />
                {id in chosen.values && (
                  <IconButton
                    icon={X}
                    label={`Let ${name} begin as the study says`}
                    onClick={() => onChange({ ...chosen, values: without() })}
                  />
                )}
              </div>
            );
          })}
        </div>
      )}
    </div>
  );
}
