let times = 1;

/** How many times as fast as for participants everything passes: other than 1 only in rehearsals. */
export const speed = (): number => times;
export const setSpeed = (to: number): void => void (times = to);
