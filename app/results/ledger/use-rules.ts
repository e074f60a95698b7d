import { useEffect, useRef, useState } from "react";
import { useFetcher, useRevalidator } from "react-router";
import { toast } from "sonner";
import { useStudy } from "~/app/editing/use-study";
import { rules as rulesShape, type Rule } from "~/core/exclusions/registry";
import { hasShape } from "~/core/shape/shape";
import type { ExclusionChange } from "~/core/exclusions/change";
import type { Ledger } from "~/server/results/ledger";

/** What is changed is stored when nothing more was changed for so long. */
const pauseMs = 400;
/** Where the server could not be reached it is tried again after so long. */
const awayMs = 3000;

/** The rules of a ledger as they stand here, changed ones at once; they are stored after a pause, and all results come anew. */
export function useRules({ set, lines }: Ledger): {
  rules: Rule[];
  isSaving: boolean;
  setRules: (rules: Rule[]) => void;
  /** Does something else with the set. */
  send: (change: ExclusionChange) => void;
} {
  const { code } = useStudy();
  const fetcher = useFetcher<{ reason?: string; done?: "away" }>();
  const stored = lines.map(({ rule }) => rule);
  const [draft, setDraft] = useState<Rule[] | null>(null);
  const waiting = useRef<ReturnType<typeof setTimeout> | null>(null);
  const isIdle = fetcher.state === "idle";
  const send = (change: ExclusionChange) =>
    void fetcher.submit(change, {
      method: "post",
      action: `/studies/${code}/exclusions`,
      encType: "application/json",
    });
  const unsent = useRef<Rule[] | null>(null);
  const store = (rules: Rule[], afterMs = pauseMs) => {
    unsent.current = rules;
    clearTimeout(waiting.current ?? undefined);
    waiting.current = setTimeout(() => {
      // What is stored already comes first, with the version that the next change is one of.
      if (latest.current.isIdle) {
        waiting.current = null;
        latest.current.send(rules);
      } else store(rules);
    }, afterMs);
  };
  const forget = () => {
    clearTimeout(waiting.current ?? undefined);
    waiting.current = null;
    unsent.current = null;
  };
  const { revalidate } = useRevalidator();
  const isUnfinished = draft !== null && !hasShape(rulesShape, draft);
  const latest = useRef({
    ...{ isIdle, isUnfinished },
    store,
    send: (_: Rule[]) => {},
    leave: (_: Rule[]) => {},
    forget,
    reload: revalidate,
  });
  useEffect(() => {
    latest.current = {
      ...{ isIdle, isUnfinished, store, forget, reload: revalidate },
      send: (rules) => send({ do: "rules", set: set.id, version: set.version, rules }),
      // What the page sends itself ends with it.
      leave: (rules) =>
        void fetch(`/studies/${code}/exclusions`, {
          ...{ method: "POST", keepalive: true, headers: { "Content-Type": "application/json" } },
          body: JSON.stringify({ do: "rules", set: set.id, version: set.version, rules } satisfies ExclusionChange),
        }).catch(() => toast("The last change of the exclusions could not be stored.")),
    };
  });
  const answer = fetcher.data;
  useEffect(() => {
    if (!isIdle || answer === undefined) return;
    if (answer.done === "away") {
      // Nothing is lost: it is sent again until the server is there.
      if (unsent.current !== null && waiting.current === null) latest.current.store(unsent.current, awayMs);
      return;
    }
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
      if (waiting.current === null || unsent.current === null) return;
      latest.current.leave(unsent.current);
      latest.current.forget();
    };
    addEventListener("pagehide", leave);
    return () => {
      removeEventListener("pagehide", leave);
      leave();
    };
  }, []);
  return {
    rules: draft ?? stored,
    isSaving: draft !== null,
    setRules: (rules) => {
      setDraft(rules);
      // A rule that is being written may be none for a moment: it is stored when it is one.
      if (hasShape(rulesShape, rules)) store(rules);
      else forget();
    },
    send,
  };
}
