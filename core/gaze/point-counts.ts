/** Of so many points, by name: the layouts from which a study chooses. */
export const pointCounts = { one: 1, five: 5, nine: 9, thirteen: 13 } as const;
export type PointCount = keyof typeof pointCounts;
export const pointCountNames = Object.keys(pointCounts) as PointCount[];
