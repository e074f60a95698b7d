import { object, variant } from "../shape/compound";
import { only, readableName, whole } from "../shape/plain";
import { nullable, type Of } from "../shape/shape";
import { id } from "../values/ref";
import { rules } from "./registry";

const name = readableName();
const set = nullable(id);
/** What can be done with a study's exclusions. `version` is that of the set as it was seen. */
const changes = {
  rules: object({ do: only("rules"), set, version: whole(0), rules }),
  /** A new set, with the rules of another, that is used from now on. */
  add: object({ do: only("add"), name, from: set }),
  /** The same with rules that were brought along, from another study. */
  take: object({ do: only("take"), name, rules }),
  use: object({ do: only("use"), set: id }),
  rename: object({ do: only("rename"), set: id, name }),
  remove: object({ do: only("remove"), set: id }),
  /** Recorded as preregistered, with what was known then. */
  register: object({ do: only("register"), set, version: whole(0) }),
};
/** A set of exclusions as a file of its own, to be used in another study. */
export const exclusionFile = object({ form: only("lapwing-exclusions-1"), name, rules });
export const exclusionChange = variant("do", changes);
export type ExclusionChange = Of<typeof exclusionChange>;
