import { useEffect, useRef, useState } from "react";
import { useFetcher, useRevalidator } from "react-router";
import { toast } from "sonner";

/** What is changed is stored when nothing more was changed for so long. */
const pauseMs = 400;
/** Where the server could not be reached it is tried again after so long. */
const awayMs = 3000;

/**
 * Something that is stored on the server as it stands here: what is changed shows at once, is stored after a pause, and the page’s
 * data come anew then. Nothing is lost where the server is away for a while, or the page is left.
 */
export function useStored<T, Change extends object>({
  stored,
  address,
  changeOf,
  fits,
  lost,
}: {
  stored: T;
  /** Where it is sent to. */
  address: string;
  /** What is sent to change it. */
  changeOf: (value: T) => Change;
  /** Whether it can be stored as it is: what is being written may be nothing for a moment. */
  fits: (value: T) => boolean;
  /** What to say where it could not be stored as the page was left. */
  lost: string;
}): {
  value: T;
  isSaving: boolean;
  set: (value: T) => void;
  /** Sends something else there. */
  send: (change: Change) => void;
} {
  const fetcher = useFetcher<{ reason?: string; done?: "away" }>();
  const [draft, setDraft] = useState<T | null>(null);
  const waiting = useRef<ReturnType<typeof setTimeout> | null>(null);
  const watching = useRef<ReturnType<typeof setTimeout> | null>(null);
  const isIdle = fetcher.state === "idle";
  const send = (change: Change) =>
    void fetcher.submit(JSON.stringify(change), { method: "post", action: address, encType: "application/json" });
  const unsent = useRef<T | null>(null);
  const store = (value: T, afterMs = pauseMs) => {
    unsent.current = value;
    clearTimeout(waiting.current ?? undefined);
    waiting.current = setTimeout(() => {
      // What is stored already comes first, with the version that the next change is one of.
      if (latest.current.isIdle) {
        waiting.current = null;
        latest.current.send(value);
        watch();
      } else store(value);
    }, afterMs);
  };
  /** What was sent is looked after: as long as the server has not answered to it, it is sent again. */
  const watch = () => {
    clearTimeout(watching.current ?? undefined);
    watching.current = setTimeout(() => {
      if (unsent.current === null || waiting.current !== null) return;
      if (latest.current.isIdle) latest.current.store(unsent.current, 0);
      else watch();
    }, awayMs);
  };
  const forget = () => {
    for (const timer of [waiting, watching]) clearTimeout(timer.current ?? undefined);
    waiting.current = null;
    unsent.current = null;
  };
  const { revalidate } = useRevalidator();
  const isUnfinished = draft !== null && !fits(draft);
  const latest = useRef({
    ...{ isIdle, isUnfinished },
    store,
    send: (_: T) => {},
    leave: (_: T) => {},
    forget,
    reload: revalidate,
  });
  useEffect(() => {
    latest.current = {
      ...{ isIdle, isUnfinished, store, forget, reload: revalidate },
      send: (value) => send(changeOf(value)),
      // What the page sends itself ends with it.
      leave: (value) =>
        void fetch(address, {
          ...{ method: "POST", keepalive: true, headers: { "Content-Type": "application/json" } },
          body: JSON.stringify(changeOf(value)),
        }).catch(() => toast(lost)),
    };
  });
  const answer = fetcher.data;
  useEffect(() => {
    if (!isIdle || answer === undefined) return;
    // It is sent again until the server is there.
    if (answer.done === "away") return;
    if (answer.reason !== undefined) {
      toast(answer.reason);
      // The page is not loaded anew after a refusal.
      void latest.current.reload();
    }
    // What was changed meanwhile waits to be stored.
    if (waiting.current !== null || latest.current.isUnfinished) return;
    unsent.current = null;
    setDraft(null);
  }, [answer, isIdle]);
  useEffect(() => {
    // Whoever goes to another page, or closes this one, has changed it all the same.
    const leave = () => {
      if (unsent.current !== null) latest.current.leave(unsent.current);
      latest.current.forget();
    };
    addEventListener("pagehide", leave);
    return () => {
      removeEventListener("pagehide", leave);
      leave();
    };
  }, []);
  return {
    value: draft ?? stored,
    isSaving: draft !== null,
    set: (value) => {
      setDraft(() => value);
      if (fits(value)) store(value);
      else forget();
    },
    send,
  };
}
