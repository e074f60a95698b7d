/** The version of the document format this code reads and writes. */
export const currentVersion = 8;
