/** A share as per cent, with at most one decimal. */
export const perCent = (share: number): string => `${Math.round(share * 1000) / 10} %`;
