/** Along what trials are put in a row. */
export const alongs = {
  trial: "trial in the session",
  "trial-in-block": "trial in its block",
  attempt: "attempt at the block",
  before: "the answer before",
  same: "whether the condition is that of the trial before",
} as const;
export type Along = keyof typeof alongs;
export const alongNames = Object.keys(alongs) as Along[];
