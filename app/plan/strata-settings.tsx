import { Plus, Trash2 } from "lucide-react";
import { Button, IconButton } from "~/app/components/button";
import { Choice, Property, Section, TextField } from "~/app/components/fields";
import { answerNames } from "~/app/compose/bindable";
import { useStudy } from "~/app/editing/use-study";
import { levelsOf, stratumInWords } from "~/core/allocate/strata";
import { isOfAnswer, parameterStrata, type Stratum } from "~/core/design/allocation";
import { answerLevels } from "~/core/design/answer-levels";
import { setAllocation } from "~/core/design/edits/study";
import { openingOf } from "~/core/order/opening";
import { questionsOf } from "~/core/design/questions";
import { refKey } from "~/core/values/uses";
import { parameterProblem } from "./parameter-problem";

const byLink = "link";
const examples: Stratum[] = [
  { parameter: "age", values: ["young", "old"] },
  { parameter: "hand", values: ["left", "right"] },
];

/** What participants are divided by, each level filled by itself: known from the link, or from the pages before places are given. */
export function StrataSettings() {
  const { document, edit } = useStudy();
  const { strata } = document.allocation;
  const set = (fresh: Stratum[], key?: string) => edit(setAllocation({ strata: fresh }), key);
  const names = namesAbove(document);
  const needs = parameterStrata(document.allocation);
  return (
    <Section title="Separately for each">
      {strata.map((stratum, index) => {
        const change = (fresh: Stratum) =>
          set(
            strata.map((each, at) => (at === index ? fresh : each)),
            `stratum ${index}`,
          );
        const known = isOfAnswer(stratum) ? refKey(stratum.from) : byLink;
        const options: [string, string][] = [
          [byLink, "a parameter of the link"],
          ...names.map(({ name, ref }): [string, string] => [refKey(ref), name]),
        ];
        if (!options.some(([key]) => key === known)) options.push([known, stratumInWords(document, stratum)]);
        return (
          <div key={index} className="grid gap-1 border-b border-hairline pb-2">
            <Property label="Known from">
              <Choice
                label={`Stratum ${index + 1} is known from`}
                value={known}
                options={options}
                onChange={(key) => {
                  const ref = names.find((each) => refKey(each.ref) === key)?.ref;
                  change(ref ? { from: ref } : (examples[index] ?? stratum));
                }}
              />
              <IconButton
                icon={Trash2}
                label="Remove the stratum"
                onClick={() => set(strata.filter((_, position) => position !== index))}
              />
            </Property>
            {isOfAnswer(stratum) ? (
              <>
                {answerLevels(document, stratum.from) === null && (
                  <Property label="New level at">
                    <TextField
                      label={`Numbers at which levels of stratum ${index + 1} begin`}
                      value={(stratum.cuts ?? []).join("; ")}
                      problem={(text) => (cutsIn(text) ? null : "Numbers, separated by semicolons, such as 30; 60.")}
                      onChange={(text) => change({ ...stratum, cuts: cutsIn(text) ?? [] })}
                    />
                  </Property>
                )}
                <p className="text-sm text-muted">Levels: {levelsOf(document, stratum).join(", ")}.</p>
              </>
            ) : (
              <>
                <Property label="Parameter">
                  <TextField
                    label={`Parameter of stratum ${index + 1}`}
                    value={stratum.parameter}
                    problem={parameterProblem}
                    onChange={(parameter) => change({ ...stratum, parameter })}
                  />
                </Property>
                <Property label="Values">
                  <TextField
                    label={`Values of stratum ${index + 1}`}
                    value={stratum.values.join(", ")}
                    problem={(text) => (valuesIn(text).length > 0 ? null : "Type the values, separated by commas.")}
                    onChange={(text) => change({ ...stratum, values: valuesIn(text) })}
                  />
                </Property>
              </>
            )}
          </div>
        );
      })}
      {strata.length < 2 && (
        <Button
          icon={Plus}
          className="justify-self-start"
          onClick={() => set([...strata, examples[strata.length] as Stratum])}
        >
          Something known beforehand
        </Button>
      )}
      <p className="text-sm text-muted">
        {strata.length === 0
          ? "For example age or handedness, given in the entry link or asked before places are given; each value is balanced by itself."
          : needs.length > 0
            ? `The link needs ${needs.map(({ parameter, values }) => `${parameter}=${values[0] ?? ""}`).join("&")}.`
            : "Each level is filled by itself."}
      </p>
    </Section>
  );
}

/** Answers and scores that participants have given before places are. */
function namesAbove(document: Parameters<typeof openingOf>[0]) {
  const told = new Set(
    openingOf(document).flatMap(({ part }) => {
      const page = document.parts[part];
      return page?.kind === "page" ? questionsOf(page).map(({ id }) => id) : [];
    }),
  );
  return answerNames(document)
    .flatMap(({ names }) => names)
    .filter(({ ref }) => {
      if ("question" in ref) return told.has(ref.question);
      const score = "score" in ref ? document.scores.find(({ id }) => id === ref.score) : undefined;
      return score !== undefined && score.from.length > 0 && score.from.every(({ question }) => told.has(question));
    });
}

const valuesIn = (text: string) =>
  [
    ...new Set(
      text
        .split(",")
        .map((each) => each.trim())
        .filter(Boolean),
    ),
  ].slice(0, 50);

/** Numbers in ascending order; a decimal comma is taken. Null where something else stands there. */
function cutsIn(text: string): number[] | null {
  const cuts = text
    .split(";")
    .map((each) => each.trim())
    .filter((each) => each !== "")
    .map((each) => Number(each.replace(",", ".")));
  const isFine = cuts.length > 0 && cuts.length <= 20 && cuts.every(Number.isFinite);
  return isFine ? [...new Set(cuts)].sort((a, b) => a - b) : null;
}
