/** What is wrong with the name of a parameter of the entry link; null where nothing is. */
export const parameterProblem = (name: string): string | null =>
  /^[A-Za-z][A-Za-z0-9_-]{0,39}$/.test(name) ? null : "Letters, digits, _ and -, beginning with a letter.";
