import type { Interruption } from "~/core/records/record";
import { facts, goOn, words } from "../facts";
import { ask } from "./page";

/** What stopped a session for a while. */
export type Why = Exclude<Interruption, "withdrawn">;

const reasons: Record<Why, () => string[]> = {
  focus: () => [words("lookedAway")],
  "full-screen": () => [words("fullScreenLeft")],
  asked: () => [],
};

/** The calm page over whatever was on; settled with whether the participant wants to continue or to leave. */
export async function showPause(into: HTMLElement, why: Why, isPlayedAgain: boolean): Promise<"go-on" | "leave"> {
  const sentences = [...reasons[why](), ...(isPlayedAgain ? [words("trialAgain")] : [])];
  if (goOn.code !== null) sentences.push(`${words("goOnCodeIs")} ${goOn.code}`);
  return (await ask(into, sentences, [words("goOn"), words("leave")], words("paused"))) === 0 ? "go-on" : "leave";
}

/** Says what becomes of the answers; settled with whether the participant really leaves. */
export async function showLeaving(into: HTMLElement): Promise<"go-on" | "leave"> {
  const kept = words(facts().withdrawn === "remove" ? "leaveRemoved" : "leaveKept");
  return (await ask(into, [words("leaveSure"), kept], [words("stay"), words("leave")])) === 0 ? "go-on" : "leave";
}
