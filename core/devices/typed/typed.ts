import type { Of } from "../../shape/shape";
import { confirmed } from "../of-item";

/** What was typed into an entry, when Enter is pressed or the button chosen here. */
export const typed = confirmed("typed", "entry", "an entry", (name) => `text in ${name}`);
export type TypedDevice = Of<(typeof typed)["shape"]>;
