import { Piscina } from "piscina";

type Options = NonNullable<ConstructorParameters<typeof Piscina>[0]>;

/**
 * A pool of worker threads. A thread that cannot be started, or that is ended because it needs more than it may, ends with
 * what it was doing and nothing else.
 */
export function threads<Asked, Answered>(options: Options): Piscina<Asked, Answered> {
  const pool = new Piscina<Asked, Answered>(options);
  // Without a listener the process would end.
  pool.on("error", (error: unknown) =>
    console.error(`A thread ended: ${error instanceof Error ? error.message : String(error)}`),
  );
  return pool;
}
