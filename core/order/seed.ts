import type { StudyDocument } from "../design/document";

/** The seed of a sitting: the trials of a later one are drawn anew; group and orders stay those of the first. */
export const seedOf = ({ settings }: StudyDocument, sitting: number): string =>
  sitting === 1 ? settings.seed : `${settings.seed} sitting ${sitting}`;

/** The number of the sitting with this seed, from 1. */
export function sittingOf({ settings }: StudyDocument, seed: string): number {
  const start = `${settings.seed} sitting `;
  const sitting = seed.startsWith(start) ? Number(seed.slice(start.length)) : 1;
  return Number.isInteger(sitting) && sitting >= 1 ? sitting : 1;
}

/** The seeds of the sittings before the one with this seed, in their order. */
export function seedsBefore(document: StudyDocument, seed: string): string[] {
  const sitting = sittingOf(document, seed);
  return sitting <= mostSittings ? Array.from({ length: sitting - 1 }, (_, index) => seedOf(document, index + 1)) : [];
}
const mostSittings = 100;
