import { mediaKind } from "../media/types";
import type { Column } from "../values/table";
import type { MediaFile } from "../values/study-values";
import type { Scalar } from "../values/ref";
import type { StudyDocument } from "./document";

/** What of a study cells are read by: its media. */
type Known = Pick<StudyDocument, "media">;

/** The kind of media a column holds; null for columns that hold none. */
export const mediaOfColumn = { image: "picture", sound: "sound", video: "video" } as const;
const isMedia = (column: Column): column is Column & { type: keyof typeof mediaOfColumn } =>
  Object.hasOwn(mediaOfColumn, column.type);
const fits = (column: Column, file: MediaFile) =>
  isMedia(column) && mediaKind(file.mime) === mediaOfColumn[column.type];

const color = /^(#[0-9a-f]{3}|#[0-9a-f]{6}|#[0-9a-f]{8}|transparent)$/i;
const yes = ["yes", "true", "1"];
const no = ["no", "false", "0"];

/**
 * What was typed or pasted, as the value its column keeps. A value that does not fit stays as typed, so that it can be
 * seen and mended: decimal commas become numbers, a media file's name becomes its id, yes/no words become true or false.
 */
export function cellFromText(document: Known, column: Column, text: string): Scalar | null {
  const typed = text.trim();
  if (typed === "") return null;
  if (column.type === "number") {
    const number = Number(/^[-+]?\d*,\d+$/.test(typed) ? typed.replace(",", ".") : typed);
    return Number.isFinite(number) ? number : typed;
  }
  if (column.type === "yes-no")
    return yes.includes(typed.toLowerCase()) ? true : no.includes(typed.toLowerCase()) ? false : typed;
  if (isMedia(column)) {
    const named = document.media.filter(({ name, id }) => name === typed || id === typed);
    return (named.find((file) => fits(column, file)) ?? named[0])?.id ?? typed;
  }
  return typed;
}

/** A cell as a person reads and types it: a picture by its name, true as yes. */
export function cellAsText(document: Known, column: Column, value: Scalar | null): string {
  if (value === null) return "";
  if (isMedia(column)) return document.media.find(({ id }) => id === value)?.name ?? String(value);
  return typeof value === "boolean" ? (value ? "yes" : "no") : String(value);
}

/** Why a cell's value does not fit its column, or null. An empty cell always fits. */
export function cellProblem(document: Known, column: Column, value: Scalar | null): string | null {
  if (value === null) return null;
  switch (column.type) {
    case "text":
      return null;
    case "number":
      return typeof value === "number" ? null : `“${value}” is not a number.`;
    case "yes-no":
      return typeof value === "boolean" ? null : `“${value}” is neither yes nor no.`;
    case "color":
      return typeof value === "string" && color.test(value) ? null : `“${value}” is not a colour such as #17211e.`;
    case "image":
    case "sound":
    case "video": {
      const [file, kind] = [document.media.find(({ id }) => id === value), mediaOfColumn[column.type]];
      if (!file) return `There is no ${kind} called “${value}”. Add it, or choose another.`;
      return fits(column, file) ? null : `“${file.name}” is a ${mediaKind(file.mime)}, and the column holds ${kind}s.`;
    }
  }
}
