import { stay, type Reactions } from "./state";

/** In a study without rules and criteria nothing is done by them. */
export const quiet: Reactions = {
  react: (_, state) => stay(state),
  runTimers: (_, state) => stay(state),
  isHeard: () => false,
  mayMove: () => false,
  judgedBlock: () => ({ jumps: [], came: undefined }),
  withResult: (_, { rounds }) => rounds,
  roundsAt: (_, { rounds }) => rounds,
  backTo: (_, state) => ({ state, jumps: [], part: null }),
};
