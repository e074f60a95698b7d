import type { DeviceWay, LineSettings } from "../../core/bridge/messages";

/** An open way to a device: bytes go out, and some may come back. */
export type Line = {
  /** Settled when the bytes were handed over; rejects where they could not be. */
  write: (bytes: Uint8Array) => Promise<void>;
  close: () => Promise<void>;
};
/** What is told of an open line. */
export type Hearing = {
  bytes: (bytes: Uint8Array) => void;
  /** The way was lost, and why in words. */
  lost: (why: string) => void;
};

/** A way to a device could not be opened; its message is for people. */
export class NoLine extends Error {}

/** How a way is opened. Rejects with `NoLine`. */
export type LineKind<K extends DeviceWay> = {
  open: (settings: Extract<LineSettings, { kind: K }>, hearing: Hearing) => Promise<Line>;
};

/** The system's code of a failure, such as `ECONNREFUSED`. */
export const codeOf = (error: unknown): string =>
  error instanceof Error && "code" in error && typeof error.code === "string" ? error.code : "";
/** What went wrong where no better words are known. */
export const saidOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));
