import { object } from "../shape/compound";
import { only, title } from "../shape/plain";
import type { Of, Shape } from "../shape/shape";
import { formattedText, plainText } from "../values/formatted-text";
import { id, type NewId } from "../values/ref";
import { notes } from "./notes";

const pageFields = object({
  kind: only("page"),
  id,
  name: title(),
  body: formattedText,
  continueLabel: title(80),
  notes,
});
export interface Page extends Of<typeof pageFields> {}
export const page: Shape<Page> = pageFields;

export const newPage = (newId: NewId, name: string): Page => ({
  kind: "page",
  id: newId("page"),
  name,
  body: plainText("Write here what participants read."),
  continueLabel: "Continue",
  notes: "",
});
