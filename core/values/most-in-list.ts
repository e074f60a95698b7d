/** No list that a variable holds grows longer. */
export const mostInList = 1000;
