import type { StudyDocument } from "../design/document";

/** The seed of a sitting: the trials of a later one are drawn anew; group and orders stay those of the first. */
export const seedOf = ({ settings }: StudyDocument, sitting: number): string =>
  sitting === 1 ? settings.seed : `${settings.seed} sitting ${sitting}`;
