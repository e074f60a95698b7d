import type { Draft } from "immer";
import type { Block } from "../block";
import type { Id } from "../../values/ref";
import type { Edit } from "./edit";

/** An edit of one block; does nothing when the block is gone. */
export const inBlock =
  (id: Id, change: (block: Draft<Block>) => void): Edit =>
  (draft) => {
    const part = draft.parts[id];
    if (part?.kind === "block") change(part);
  };
