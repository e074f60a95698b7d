import type { Id } from "../../values/ref";
import type { MediaFile } from "../../values/study-values";
import type { Edit } from "./edit";

/** Adds a media file; one of the same content is kept once. */
export const addMedia =
  (file: MediaFile): Edit =>
  (draft) => {
    if (!draft.media.some(({ sha256 }) => sha256 === file.sha256)) draft.media.push(file);
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

/** Takes a file out of the study. What used it keeps its id and is told by preflight. */
export const removeMedia =
  (id: Id): Edit =>
  (draft) => {
    draft.media = draft.media.filter((each) => each.id !== id);
  };
