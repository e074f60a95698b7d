import { object, variant } from "../shape/compound";
import { only, whole } from "../shape/plain";
import type { Of } from "../shape/shape";
import { nameShape } from "../values/names";
import { id } from "../values/ref";
import { norm } from "./norm";
import { trialScore } from "./trial-score";

/** What can be done with a study’s scores over trials and its norm samples. */
const changes = {
  "add-score": object({ do: only("add-score"), name: nameShape, score: trialScore }),
  "save-score": object({ do: only("save-score"), id, version: whole(0), score: trialScore }),
  "rename-score": object({ do: only("rename-score"), id, name: nameShape }),
  "remove-score": object({ do: only("remove-score"), id }),
  "add-norm": object({ do: only("add-norm"), norm }),
  /** Read scores against it, or against none any longer. */
  "use-norm": object({ do: only("use-norm"), id }),
  "leave-norm": object({ do: only("leave-norm"), id }),
  "remove-norm": object({ do: only("remove-norm"), id }),
};
export const personsChange = variant("do", changes);
export type PersonsChange = Of<typeof personsChange>;
