import { ruleInWords, type Rule } from "./registry";

/** How a set of rules was changed, each difference in words that follow its name: “… was switched off”. */
export function ruleDifferences(before: readonly Rule[], after: readonly Rule[]): string[] {
  const [known, now] = [before, after].map((rules) => new Map(rules.map((rule) => [rule.id, rule])));
  const words = (rule: Rule) => `“${ruleInWords(rule)}”`;
  const found = [
    ...after.flatMap((rule): string[] => {
      const old = known?.get(rule.id);
      if (!old) return [`${words(rule)} was added`];
      if (JSON.stringify({ ...old, isOn: true }) !== JSON.stringify({ ...rule, isOn: true }))
        return [`${words(old)} became ${words(rule)}`];
      return old.isOn === rule.isOn ? [] : [`${words(rule)} was switched ${rule.isOn ? "on" : "off"}`];
    }),
    ...before.flatMap((rule) => (now?.has(rule.id) ? [] : [`${words(rule)} was removed`])),
  ];
  const order = (rules: readonly Rule[], others: ReadonlyMap<string, Rule> | undefined) =>
    rules.flatMap(({ id: each }) => (others?.has(each) ? [each] : [])).join(" ");
  return order(before, now) === order(after, known) ? found : [...found, "the order of the rules was changed"];
}
