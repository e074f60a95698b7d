import type { Settings } from "./settings";

type Viewing = Settings["viewing"];

/** How gaze is taken to be seen where a study says nothing: a stage of 30 cm from 60 cm. */
export const usualViewing = { distanceCm: 60, shorterSideCm: 30 };

/** Degrees of visual angle that a length in stage units takes up at the centre of sight: 2 atan(length / 2 distance). Null without a viewing distance. */
export function degreesOf(length: number, viewing: Viewing): number | null {
  if (!viewing) return null;
  const cm = (length / 100) * viewing.shorterSideCm;
  return (2 * Math.atan(cm / (2 * viewing.distanceCm)) * 180) / Math.PI;
}

/** The length in stage units that takes up so many degrees. Null without a viewing distance, and from 180° on. */
export function unitsOf(degrees: number, viewing: Viewing): number | null {
  if (!viewing || Math.abs(degrees) >= 180) return null;
  const cm = 2 * viewing.distanceCm * Math.tan((degrees * Math.PI) / 360);
  return (cm / viewing.shorterSideCm) * 100;
}

/** Stage units in one degree at the centre of sight. */
export const unitsPerDegree = (viewing: Viewing): number | null => unitsOf(1, viewing);
