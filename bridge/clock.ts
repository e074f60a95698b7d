/** The bridge’s clock, in milliseconds: it goes on evenly, and where it went on before when the bridge is started again. */
export const now = (): number => performance.timeOrigin + performance.now();
