import { methodInWords } from "../describe/method";
import type { StudyDocument } from "../design/document";
import { exclusionsInWords, type ExclusionCounts, type Registered } from "./method";
import { kindOf, ruleInWords, type Rule } from "./registry";

/** A set of exclusions as it is told beside data. */
export type ToldExclusions = {
  name: string;
  rules: readonly Rule[];
  counts: ExclusionCounts;
  registered: Registered | null;
};

/**
 * What goes with exported data as Markdown: the paragraphs for a method section, and the exclusions one by one with what each left out.
 * Without a document nothing is told of the design.
 */
export function methodMarkdown(
  { title, code, document }: { title: string; code: string; document: StudyDocument | null },
  { name, rules, counts, registered }: ToldExclusions,
): string {
  const outOf = new Map(counts.counts.map(({ id, out }) => [id, out]));
  const lines = (on: "sessions" | "trials") =>
    rules
      .filter((rule) => kindOf(rule).on === on)
      .map((rule) => `- ${ruleInWords(rule)}: ${rule.isOn ? (outOf.get(rule.id) ?? 0) : "switched off"}`);
  const listed = (heading: string, of: string[]) => (of.length === 0 ? [] : ["", heading, "", ...of]);
  return [
    `# ${title} (${code}): for the method section`,
    ...(document === null ? [] : methodInWords(document).flatMap((paragraph) => ["", paragraph])),
    ...["", exclusionsInWords(rules, counts, registered)],
    ...["", `## Exclusions “${name}”`],
    ...listed("Sessions, in this order:", lines("sessions")),
    ...listed("Trials, in this order:", lines("trials")),
    ...(registered
      ? ["", `Recorded by the server at ${registered.at}; SHA-256 of the rules: ${registered.hash}.`]
      : []),
    "",
  ].join("\n");
}
