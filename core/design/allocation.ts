import { list, object, record } from "../shape/compound";
import { number, oneOf, text, whole } from "../shape/plain";
import { choosing, optional, type Of, type Shape } from "../shape/shape";
import { id, ref } from "../values/ref";

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

/** Known of participants beforehand: a parameter of the entry link, with all the values it can have. */
const parameterStratum = object({ parameter: parameterName, values: list(parameterValue, 1, 50) });
/**
 * Told by participants on the first pages: an answer or a score. `cuts` divide numbers: each is the least value of the next
 * level; an answer with options has these as its levels.
 */
const answerStratum = object({ from: ref, cuts: optional(list(number(), 1, 20)) });
export type ParameterStratum = Of<typeof parameterStratum>;
export type AnswerStratum = Of<typeof answerStratum>;
export type Stratum = ParameterStratum | AnswerStratum;
export const isOfAnswer = (stratum: Stratum): stratum is AnswerStratum => "from" in stratum;
/** The strata that are told by the entry link. */
export const parameterStrata = ({ strata }: { strata: readonly Stratum[] }): ParameterStratum[] =>
  strata.filter((each): each is ParameterStratum => !isOfAnswer(each));
const stratum = choosing<Stratum>((value) =>
  typeof value === "object" && value !== null && "from" in value ? answerStratum : parameterStratum,
);

const allocationFields = object({
  method,
  /** The page after which places (number, group and orders) are given; at the start where this is left out. */
  after: optional(id),
  /** Permuted blocks hold every group as often as its share says, so many times; of several lengths, one is drawn for each block. */
  blockSizes: list(whole(1, 20), 1, 10),
  /** A parameter of the entry link whose value names the group. */
  parameter: optional(
    object({ name: parameterName, values: record(parameterValue), otherwise: oneOf("least-filled", "refuse") }),
  ),
  /** Each combination of their levels is filled by itself. */
  strata: list(stratum, 0, 2),
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

/** The parameter of a link's address that identifies a participant, so that a later sitting finds the first. */
export const codeParameter = "participant";
