import { choice } from "./choice";
import { follow } from "./follow";
import { goOrWait } from "./go-or-wait";
import { judge } from "./judge";
import { list } from "./list";
import { remember } from "./remember";
import { search } from "./search";
import { threshold } from "./threshold";
import type { Starter } from "./starter";

/** Small complete studies to begin from, in the order in which they are offered. */
export const starters: readonly Starter[] = [choice, goOrWait, search, list, remember, judge, threshold, follow];
