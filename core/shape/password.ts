/** How long passwords are, in characters. */
export const [leastPassword, mostPassword] = [10, 200];
/** The key of a laboratory's computer has at least and at most so many characters. */
export const [leastKey, mostKey] = [4, 40];
