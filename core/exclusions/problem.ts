import { kindOf, type Rule } from "./registry";

/** Whether rules can be applied to data with these columns; what is wrong with one that cannot. */
export function ruleProblem(
  rule: Rule,
  there: { trials: ReadonlySet<string>; sessions: ReadonlySet<string> },
): string | null {
  const kind = kindOf(rule);
  const needs = kind.on === "trials" ? { trials: kind.needs(rule), sessions: [] } : kind.needs(rule);
  const missing = [
    ...(needs.trials ?? []).filter((name) => isChosen(rule, name) && !there.trials.has(name)),
    ...(needs.sessions ?? []).filter((name) => isChosen(rule, name) && !there.sessions.has(name)),
  ];
  return missing.length === 0
    ? null
    : `The data have no column ${missing.map((name) => `“${name}”`).join(", ")}: choose another, or remove the rule.`;
}

/** Whether a column is named by the rule itself. */
const isChosen = (rule: Rule, name: string): boolean =>
  ("column" in rule && rule.column === name) || ("conditions" in rule && rule.conditions.includes(name));
