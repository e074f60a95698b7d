import type { Draft } from "immer";
import type { Block } from "../block";
import type { TrialTable } from "../../values/table";
import type { Id } from "../../values/ref";
import type { Edit } from "./edit";

/** An edit of one block; does nothing when the block is gone. */
export const inBlock =
  (id: Id, change: (block: Draft<Block>) => void): Edit =>
  (draft) => {
    const part = draft.parts[id];
    if (part?.kind === "block") change(part);
  };

/** An edit of the table of a block or of a pool; does nothing when that is gone. */
export const inTable =
  (id: Id, change: (holder: { table: Draft<TrialTable> }) => void): Edit =>
  (draft) => {
    const part = draft.parts[id];
    const holder = part?.kind === "block" ? part : draft.pools.find((each) => each.id === id);
    if (holder) change(holder);
  };
