import { currentVersion } from "../version";
import type { Migration } from "./migration";
import { to2 } from "./to-2";
import { to3 } from "./to-3";
import { to4 } from "./to-4";
import { to5 } from "./to-5";
import { to6 } from "./to-6";
import { to7 } from "./to-7";
import { to8 } from "./to-8";

/** One entry for each version ever left behind, in order. */
export const migrations: Migration[] = [to2, to3, to4, to5, to6, to7, to8];

/**
 * Brings a parsed document to `target` by applying the steps in order.
 * Throws when a step is missing: that is a mistake in the registry, not in the file.
 */
export function migrate(
  document: Record<string, unknown>,
  version: number,
  steps: Migration[] = migrations,
  target: number = currentVersion,
): Record<string, unknown> {
  let result = document;
  for (let at = version; at < target; at++) {
    const step = steps.find(({ from }) => from === at);
    if (!step) throw new Error(`No migration from version ${at}`);
    result = { ...step.up(result), version: at + 1 };
  }
  return result;
}
