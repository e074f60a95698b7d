/*
 * Stands in for Yup in what participants load. Shapes carry a check that explains what is wrong, for people who design; the
 * player only asks whether a value fits, so that the explaining half need not be fetched. Every call gives the same thing
 * again, which is never asked for anything.
 */

type Chain = { (...given: unknown[]): Chain } & Record<string, never>;
const chain: Chain = new Proxy((() => undefined) as unknown as Chain, {
  get: (_, name) => (name === "then" ? undefined : chain),
  apply: () => chain,
});

export const [string, number, boolean, mixed, object, array, lazy] = [chain, chain, chain, chain, chain, chain, chain];
export class ValidationError extends Error {}
