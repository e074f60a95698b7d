import type { Id } from "~/core/design/types";
import type { Context } from "~/core/run/resolve";

/** Gives the address from which a media file can be drawn; null where the file is missing. */
export type MediaUrl = (id: Id) => string | null;
export type Drawing = { context: Context; mediaUrl: MediaUrl };
