import type { DrawPools } from "../compile/plan";
import { trialAt } from "./block-run";
import { stay, type Following, type Reactions } from "./state";

/** In a study without rules and criteria nothing is done by them. */
export const quiet: Reactions = {
  react: (_, state) => stay(state),
  takeAct: (_, state) => stay(state),
  isHeard: () => false,
  mayMove: () => false,
  judgedBlock: () => ({ jumps: [], came: undefined }),
  withResult: (_, { rounds }) => rounds,
  roundsAt: (_, { rounds }) => rounds,
  backTo: (_, state) => ({ state, jumps: [], part: null }),
};

/** In a study in which no trial follows what was answered all come as planned. */
export const asPlanned: Following = {
  settledTrial: trialAt,
  afterTrial: (_, { run }) => ({ run, jumps: [] }),
  keptThresholds: (_, state) => state,
};

/** In a study without pools nothing is drawn from them. */
export const noPools: DrawPools = () => null;
