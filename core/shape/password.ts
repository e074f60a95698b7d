/** How long passwords are, in characters. */
export const [leastPassword, mostPassword] = [10, 200];
