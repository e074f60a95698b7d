/** Displays whose shape the stage can be shown in: width to height. */
export const screens = {
  "16:10": 16 / 10,
  "16:9": 16 / 9,
  "4:3": 4 / 3,
  phone: 9 / 19.5,
  "phone, landscape": 19.5 / 9,
} as const;
export type ScreenName = keyof typeof screens;
export const screenNames = Object.keys(screens) as ScreenName[];
