/** Columns that are kept for results and not exported; no exported one can have such a name. */
export const hiddenOfTrials = { right: "@right", rt: "@rt", isFirst: "@first" };
export const hiddenOfSessions = { minutes: "@minutes" };
