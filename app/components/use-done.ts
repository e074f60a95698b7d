import { useEffect, useRef } from "react";
import type { useFetcher } from "react-router";

type Answer = { reason?: string };
type Sending<T extends Answer> = Pick<ReturnType<typeof useFetcher<T>>, "data">;

/** Does something with each answer of the server, once, before the page is loaded anew. */
export function useAnswered<T extends Answer>(
  { data }: Sending<T>,
  then: (answer: NonNullable<typeof data>) => void,
): void {
  const known = useRef(data);
  // Looked at each time, and not only when `data` is another: the router changes it before it tells React. If React draws in
  // between, and sees that nothing of its own has changed, it takes the new `data` for known and leaves the effect out.
  useEffect(() => {
    if (data === undefined || data === known.current) return;
    known.current = data;
    then(data);
  });
}

/** Does something each time the server has done what was asked; not where it refuses, or did not answer. */
export const useDone = (sending: Sending<Answer>, then: () => void): void =>
  useAnswered(sending, ({ reason }) => {
    if (reason === undefined) then();
  });
