import type { Id } from "~/core/values/ref";

/** Ids made in the browser: short, and long enough not to collide within a document. */
export const newId = (prefix: string): Id =>
  `${prefix}-${[...crypto.getRandomValues(new Uint8Array(6))].map((byte) => (byte % 36).toString(36)).join("")}`;
