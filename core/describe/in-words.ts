const words = ["no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"];
/** A count as it stands in a sentence: up to ten as a word. */
export const inNumbers = (count: number): string => words[count] ?? count.toLocaleString("en");
/** With a capital first. */
export const startCase = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
/** “a, b and c”. */
export const inList = (list: readonly string[]): string =>
  list.length < 2 ? (list[0] ?? "") : `${list.slice(0, -1).join(", ")} and ${list.at(-1)}`;
