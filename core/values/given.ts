import type { Id, Scalar, Value } from "./ref";
import { type Variable } from "./study-values";
import { mostInList } from "./most-in-list";

/** What a text stands for in a variable of a type; null where it is no such value. */
export function valueFromText({ type }: Pick<Variable, "type">, text: string): Value | null {
  const trimmed = text.trim();
  if (trimmed === "") return null;
  if (type === "number") {
    const number = Number(trimmed.replace(",", "."));
    return Number.isFinite(number) ? number : null;
  }
  if (type === "yes-no") {
    if (/^(yes|true|1)$/i.test(trimmed)) return true;
    return /^(no|false|0)$/i.test(trimmed) ? false : null;
  }
  if (type === "list") return listFromText(trimmed);
  return trimmed.slice(0, 200);
}

/** What is wrong with a text that is to stand for a value of a variable; null where nothing is. */
export function textProblem(variable: Pick<Variable, "type">, text: string): string | null {
  if (text.trim() === "" || valueFromText(variable, text) !== null) return null;
  return variable.type === "number" ? `“${text.trim()}” is no number.` : `“${text.trim()}” is neither yes nor no.`;
}

/** The entries of a list written with semicolons; those that are numbers become such. */
export const listFromText = (text: string): Scalar[] =>
  text
    .split(";")
    .map((entry) => entry.trim())
    .filter(Boolean)
    .slice(0, mostInList)
    .map((entry) => (/^[-+]?\d+([.,]\d+)?$/.test(entry) ? Number(entry.replace(",", ".")) : entry));

/**
 * What the variables of a study start with in a session, by id, where that is not what the study says: a parameter of the
 * link's address; else, for those that are kept, what an earlier sitting ended with.
 */
export function givenFor(
  variables: readonly Variable[],
  parameters: Readonly<Record<string, string>>,
  kept: Readonly<Record<Id, Value | null>>,
): Record<Id, Value> {
  const given: Record<Id, Value> = {};
  for (const variable of variables) {
    const said = variable.from ? parameters[variable.from.urlParameter] : undefined;
    const value = said === undefined ? null : valueFromText(variable, said);
    const before = variable.kept ? (kept[variable.id] ?? null) : null;
    if (value !== null) given[variable.id] = value;
    else if (before !== null) given[variable.id] = before;
  }
  return given;
}
