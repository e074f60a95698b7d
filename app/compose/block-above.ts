import { useStudy } from "~/app/editing/use-study";
import type { Block } from "~/core/design/block";

/** The way from what is selected in a block back to the block's own settings, for the top of the margin. */
export function useBlockAbove({ name }: Block): { name: string; go: () => void } {
  const { look } = useStudy();
  return { name, go: () => look({ selected: { kind: "nothing" } }) };
}
