import { arrangement, type Arrangement } from "../arrangements/registry";
import { criterion, type Criterion } from "../rules/criterion";
import { list, object, variant } from "../shape/compound";
import { only, whole } from "../shape/plain";
import { lazily, optional, type Of, type Shape } from "../shape/shape";
import { condition } from "../values/condition";
import { id, type Id } from "../values/ref";

const partNode = object({
  kind: only("part"),
  part: id,
  /** The groups that have the part, where these are not all. */
  onlyGroups: optional(list(id)),
  /** The sittings that have the part, where these are not all. */
  onlySittings: optional(list(id)),
  /** The part is played only if this holds when the session comes to it. */
  when: optional(condition),
  /** It is no part of the order: only rules and criteria show it. */
  aside: optional(only(true)),
});
export type PartNode = Of<typeof partNode>;
/** A span of parts whose order is varied across participants; of its nodes, `take` are played, or all. */
export type Bracket = {
  kind: "bracket";
  id: Id;
  arrange: Arrangement;
  take?: number | undefined;
  /** Its parts are played again until this is reached; looked at when they have all been played. */
  until?: Criterion | undefined;
  nodes: RunningNode[];
};
export type RunningNode = PartNode | Bracket;

const bracket: Shape<Bracket> = lazily(() =>
  object({
    kind: only("bracket"),
    id,
    arrange: arrangement,
    take: optional(whole(1)),
    until: optional(criterion),
    nodes: list(runningNode),
  }),
);
export const runningNode: Shape<RunningNode> = variant("kind", { part: partNode, bracket });
