import type { Id } from "../../values/ref";
import type { MediaFile } from "../../values/study-values";
import { mediaOf } from "../../items/item";
import { mediaOfColumn } from "../cells";
import type { Edit } from "./edit";

/** Adds a media file; one of the same content is kept once. What names a missing file of this name shows this one. */
export const addMedia =
  (file: MediaFile): Edit =>
  (draft) => {
    if (draft.media.some(({ sha256 }) => sha256 === file.sha256)) return;
    if (!draft.media.some(({ name }) => name === file.name)) renameUses(draft, file.name, file.id);
    draft.media.push(file);
  };

export const renameMedia =
  (id: Id, name: string): Edit =>
  (draft) => {
    const file = draft.media.find((each) => each.id === id);
    if (file) file.name = name;
  };

/** Puts another file's content in a file's place, everywhere it is used; its id stays. */
export const replaceMedia =
  (id: Id, by: MediaFile): Edit =>
  (draft) => {
    const at = draft.media.findIndex((each) => each.id === id);
    if (at >= 0) draft.media[at] = { ...by, id };
  };

/** Takes a file out of the study. What used it keeps its name instead, by which preflight and the table tell it. */
export const removeMedia =
  (id: Id): Edit =>
  (draft) => {
    const file = draft.media.find((each) => each.id === id);
    if (file) renameUses(draft, id, file.name);
    draft.media = draft.media.filter((each) => each.id !== id);
  };

/** Puts another word for a file wherever it is named: in items that show or play it, and in cells of columns of media. */
function renameUses(draft: Parameters<Edit>[0], from: string, to: string): void {
  for (const part of Object.values(draft.parts)) {
    if (part.kind !== "block") continue;
    for (const { items } of part.scenes)
      for (const item of items)
        if (mediaOf(item).some(({ value }) => value === from))
          for (const [field, value] of Object.entries(item))
            if (value === from && field !== "name") Object.assign(item, { [field]: to });
    for (const { id, type } of part.table.columns)
      if (Object.hasOwn(mediaOfColumn, type))
        for (const row of part.table.rows) if (row.cells[id] === from) row.cells[id] = to;
  }
}
