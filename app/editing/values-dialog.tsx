import { Dialog } from "~/app/components/dialog";
import { useStudy } from "~/app/editing/use-study";
import { plannedAssignment } from "~/core/allocate/allocate";
import { questionsInOrder } from "~/core/design/questions";
import { builtInNames, builtInOf } from "~/core/values/built-ins";
import { contextFor, type Context } from "~/core/values/context";
import { resolve, valueAsText } from "~/core/values/resolve";
import type { Ref } from "~/core/values/ref";
import { emptyTally } from "~/core/values/tally";

type Line = { name: string; ref: Ref; means: string; example: string };

/** An example to tell values by: twenty trials of a block, eighteen right, the last in 412 ms. */
function exampleOf(
  document: Context["study"] & { groups: { id: string }[] },
  participant: number,
  group: string,
): Context {
  const results = Array.from({ length: 20 }, (_, index) => ({
    right: index !== 4 && index !== 11,
    rt: 412,
    row: "",
    index,
  }));
  return contextFor(
    { study: document, group, participant },
    { session: { now: 4 * 60_000, part: 3, points: 16, sitting: 1 } },
    {
      ...emptyTally,
      trialsDone: 20,
      session: { scored: 20, right: 18 },
      block: { done: 20, scored: 20, right: 18, rtSum: 18 * 412, rtCount: 18, results, attempt: 1, began: 2 * 60_000 },
      last: { answer: "f", right: true, rt: 412, outcome: "right" },
    },
  );
}

/** All values a text, condition or rule can use, with what they mean and an example. */
export function ValuesDialog({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const { document, view } = useStudy();
  if (!open) return null;
  const context = exampleOf(document, view.participant, plannedAssignment(document, view.participant).group);
  const say = (ref: Ref) => valueAsText(ref, context) || String(resolve({ from: ref }, context) ?? "");
  const families: { title: string; lines: Line[] }[] = [
    {
      title: "Variables of this study",
      lines: document.variables.map(({ id, name, from, kept }) => ({
        name,
        ref: { variable: id },
        means: `${from ? `set by ?${from.urlParameter} of the link` : "set and changed by rules"}${kept ? ", kept for the next sitting" : ""}`,
        example: say({ variable: id }),
      })),
    },
    {
      title: "Group values",
      lines: document.groupValues.map(({ id, name }) => ({
        name,
        ref: { groupValue: id },
        means: "the value of the participant’s group",
        example: say({ groupValue: id }),
      })),
    },
    {
      title: "Answers and scores",
      lines: [
        ...questionsInOrder(document).map(({ page, question }) => ({
          name: question.name,
          ref: { question: question.id },
          means: `the answer on “${page.name}”`,
          example: "",
        })),
        ...document.scores.map(({ id, name }) => ({ name, ref: { score: id }, means: "a score", example: "" })),
      ],
    },
    {
      title: "Always there",
      lines: builtInNames.map((name) => ({
        name,
        ref: { builtIn: name },
        means: builtInOf(name).means,
        example: say({ builtIn: name }),
      })),
    },
  ].filter(({ lines }) => lines.length > 0);
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      wide
      title="Values"
      description={`What texts, properties, conditions and rules can use. Examples: participant ${view.participant}, after twenty trials of a block with two errors. Columns of a trial table are there too, within its trials.`}
    >
      <table className="w-full border-collapse text-sm">
        {families.map(({ title, lines }) => (
          <tbody key={title}>
            <tr>
              <th colSpan={3} scope="colgroup" className="pb-1 pt-3 text-left text-xs font-semibold text-muted">
                {title}
              </th>
            </tr>
            {lines.map(({ name, means, example }) => (
              <tr key={name} className="border-t border-hairline align-top">
                <th scope="row" className="py-1 pr-4 text-left font-mono text-xs font-normal text-sheen">
                  {name}
                </th>
                <td className="py-1 pr-4">{means}</td>
                <td className="py-1 text-right font-mono text-xs text-muted">{example}</td>
              </tr>
            ))}
          </tbody>
        ))}
      </table>
    </Dialog>
  );
}
