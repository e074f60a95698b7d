import type { PlannedTrial } from "~/core/compile/plan";
import type { Context } from "~/core/values/context";
import { ask } from "./page";

/** A rehearsal that is played trial by trial: what came of the last one, until the next is asked for. */
export async function waitForNext(
  into: HTMLElement,
  { trial }: PlannedTrial,
  { tally }: Pick<Context, "tally">,
): Promise<void> {
  const { answer, outcome, rt } = tally.last;
  const last = [outcome, answer === null ? null : `“${answer}”`, rt === null ? null : `${Math.round(rt)} ms`];
  const said = last.filter((each) => each !== null);
  await ask(
    into,
    [...(said.length > 0 ? [`The last trial: ${said.join(", ")}.`] : []), `Trial ${trial} comes next.`],
    ["Play it"],
  );
}
