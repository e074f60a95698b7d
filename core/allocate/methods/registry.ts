import type { AllocationMethod } from "../../design/allocation";
import { byNumber } from "./by-number";
import { leastFilled } from "./least-filled";
import type { Method } from "./method";
import { permutedBlocks } from "./permuted-blocks";

const methods: Record<AllocationMethod, Method> = {
  "permuted-blocks": permutedBlocks,
  "least-filled": leastFilled,
  "by-number": byNumber,
  // If neither the link nor the experimenter names a group, the least filled one is chosen.
  "by-parameter": leastFilled,
  "by-experimenter": leastFilled,
};
export const methodOf = (method: AllocationMethod): Method => methods[method];
