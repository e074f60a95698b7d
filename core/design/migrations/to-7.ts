import type { Migration } from "./migration";

export const to7: Migration = {
  from: 6,
  describe: "Several sittings of a participant, with the days on which each is due and parts of their own.",
  up: (document) => ({ ...document, sittings: [] }),
};
