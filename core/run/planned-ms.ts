import type { PlannedTrial } from "../compile/compile";
import type { Lasts, Scene } from "../design/scene";
import type { Context } from "../values/context";
import { resolveNumber } from "../values/resolve";

type LastsOf<K extends Lasts["kind"]> = Extract<Lasts, { kind: K }>;
const durations: {
  [K in Lasts["kind"]]: (lasts: LastsOf<K>, drawn: number | undefined, context: Context) => number | null;
} = {
  ms: ({ ms }, _, context) => Math.max(0, resolveNumber(ms, context) ?? 0),
  "random-ms": ({ from }, drawn) => drawn ?? from,
  "until-answer": ({ atMostMs }, _, context) =>
    atMostMs === undefined ? null : Math.max(0, resolveNumber(atMostMs, context) ?? 0),
  "media-end": () => null,
};

/** How long a scene is planned to stay, in milliseconds; null when only something else ends it. */
export function plannedMs({ id, lasts }: Scene, { drawn }: PlannedTrial, context: Context): number | null {
  const duration = durations[lasts.kind] as (of: Lasts, drawn: number | undefined, context: Context) => number | null;
  return duration(lasts, drawn[id], context);
}
