import { list, object, record } from "../shape/compound";
import { oneOf, text, whole } from "../shape/plain";
import { optional, type Of, type Shape } from "../shape/shape";

const parameterName = text({
  missing: "is missing: type a name",
  pattern: /^[A-Za-z][A-Za-z0-9_-]{0,39}$/,
  otherwise: "must be letters, digits, _ or -, beginning with a letter",
});
const parameterValue = text({ most: 200 });

const method = oneOf("permuted-blocks", "least-filled", "by-number", "by-parameter", "by-experimenter");
export type AllocationMethod = Of<typeof method>;

/** Which sessions count in their cell. */
const counting = object({
  sessions: oneOf("finished-and-active", "finished", "all"),
  /** A session silent for this long is no longer active. */
  activeMinutes: whole(1, 100_000),
  /** Whether a session that is excluded later still counts in its cell or gives its assignment back. */
  excluded: oneOf("keeps", "gives-back"),
});
export type Counting = Of<typeof counting>;

const allocationFields = object({
  method,
  /** Permuted blocks hold every group as often as its share says, so many times; of several lengths, one is drawn for each block. */
  blockSizes: list(whole(1, 20), 1, 10),
  /** A parameter of the entry link whose value names the group. */
  parameter: optional(
    object({ name: parameterName, values: record(parameterValue), otherwise: oneOf("least-filled", "refuse") }),
  ),
  /** What is known of participants beforehand, as parameters of the entry link: each combination of values is filled by itself. */
  strata: list(object({ parameter: parameterName, values: list(parameterValue, 1, 50) }), 0, 2),
  counts: counting,
});
/**
 * How participants get their group and the orders of the brackets. All methods fill the cells of the scheme (group ×
 * orders) evenly, in proportion to the groups' shares, within each stratum by itself.
 */
export interface Allocation extends Of<typeof allocationFields> {}
export const allocation: Shape<Allocation> = allocationFields;

/** Permuted blocks that hold every group once; finished sessions and those heard from within the hour count. */
export const freshAllocation: Allocation = {
  method: "permuted-blocks",
  blockSizes: [1],
  strata: [],
  counts: { sessions: "finished-and-active", activeMinutes: 60, excluded: "gives-back" },
};
