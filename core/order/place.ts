import type { Orders } from "./parts";
import type { Id } from "../values/ref";

/** A participant's place in a study. Numbers begin with 1. */
export type Place = { participant: number; group: Id; orders: Orders };

/** A place, and the seed of the sitting that is played there: what its draws follow from. */
export type Seeded = Place & { seed: string };

/** Stands for a session's place until it has one: where places are given only after the first pages. */
export const noPlace: Place = { participant: 0, group: "", orders: {} };

export const hasPlace = ({ participant }: Pick<Place, "participant">): boolean => participant !== noPlace.participant;
