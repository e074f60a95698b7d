import { useStored } from "~/app/editing/use-stored";
import { useStudy } from "~/app/editing/use-study";
import type { ExclusionChange } from "~/core/exclusions/change";
import { rules as rulesShape, type Rule } from "~/core/exclusions/registry";
import { hasShape } from "~/core/shape/shape";
import type { Ledger } from "~/server/results/ledger";

/** The rules of a ledger as they stand here, changed ones at once; all results come anew when they are stored. */
export function useRules({ set, lines }: Ledger): {
  rules: Rule[];
  isSaving: boolean;
  setRules: (rules: Rule[]) => void;
  /** Does something else with the set. */
  send: (change: ExclusionChange) => void;
} {
  const { code } = useStudy();
  const {
    value,
    isSaving,
    set: setRules,
    send,
  } = useStored<Rule[], ExclusionChange>({
    stored: lines.map(({ rule }) => rule),
    address: `/studies/${code}/exclusions`,
    changeOf: (rules) => ({ do: "rules", set: set.id, version: set.version, rules }),
    fits: (rules) => hasShape(rulesShape, rules),
    lost: "The last change of the exclusions could not be stored.",
  });
  return { rules: value, isSaving, setRules, send };
}
