import { isRouteErrorResponse, type ClientActionFunctionArgs, type ShouldRevalidateFunctionArgs } from "react-router";
import { toast } from "sonner";

const reason = "The server cannot be reached. What you typed is still here: try again.";
/** What stands in for an answer of the server; every action here can give a reason. */
const away = {
  ...{ ok: false as const, reason, problem: reason, problems: {}, mistakes: [], findings: [] },
  ...{ found: null, done: "away" as const, says: "", needsCode: false },
};

/** No answer at all, or that of a proxy whose server is away. */
const isAway = (error: unknown): boolean =>
  error instanceof TypeError || (isRouteErrorResponse(error) && [502, 503, 504].includes(error.status));

/** What the server's action says, or where it cannot be reached a reason instead of the page for errors. */
export async function orAway<Said>(serverAction: () => Promise<Said>): Promise<Said> {
  try {
    return await serverAction();
  } catch (error) {
    if (!isAway(error)) throw error;
    toast(reason, { id: "away" });
    // It answers in every way in which a page here looks for a reason.
    return away as Said;
  }
}

/** The same as the action of a page in the browser. */
export const actionOrAway = ({ serverAction }: ClientActionFunctionArgs) => orAway(serverAction);

/** A page that could not send something is not loaded anew: that would fail too, and what was typed would be gone. */
export const unlessAway = ({ actionResult, defaultShouldRevalidate }: ShouldRevalidateFunctionArgs): boolean =>
  actionResult === away ? false : defaultShouldRevalidate;
