import { useEffect, useRef, useState } from "react";
import { useFetcher, useRevalidator } from "react-router";
import { toast } from "sonner";
import { useStudy } from "~/app/editing/use-study";
import type { Rule } from "~/core/exclusions/registry";
import type { ExclusionChange } from "~/core/exclusions/change";
import type { Ledger } from "~/server/results/ledger";

/** What is changed is stored when nothing more was changed for so long. */
const pauseMs = 400;

/** The rules of a ledger as they stand here, changed ones at once; they are stored after a pause, and all results come anew. */
export function useRules({ set, lines }: Ledger): {
  rules: Rule[];
  isSaving: boolean;
  setRules: (rules: Rule[]) => void;
  /** Does something else with the set. */
  send: (change: ExclusionChange) => void;
} {
  const { code } = useStudy();
  const fetcher = useFetcher<{ reason?: string }>();
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
  const store = (rules: Rule[]) => {
    waiting.current = setTimeout(() => {
      // What is stored already comes first, with the version that the next change is one of.
      if (latest.current.isIdle) {
        waiting.current = null;
        latest.current.send(rules);
      } else store(rules);
    }, pauseMs);
  };
  const { revalidate } = useRevalidator();
  const latest = useRef({ isIdle, send: (_: Rule[]) => {}, reload: revalidate });
  useEffect(() => {
    latest.current = {
      isIdle,
      reload: revalidate,
      send: (rules) => send({ do: "rules", set: set.id, version: set.version, rules }),
    };
  });
  const answer = fetcher.data;
  useEffect(() => {
    if (!isIdle || answer === undefined) return;
    if (answer.reason !== undefined) {
      toast(answer.reason);
      // The page is not loaded anew after a refusal.
      void latest.current.reload();
    }
    // What was changed meanwhile waits to be stored.
    if (waiting.current === null) setDraft(null);
  }, [answer, isIdle]);
  useEffect(() => () => clearTimeout(waiting.current ?? undefined), []);
  return {
    rules: draft ?? stored,
    isSaving: draft !== null,
    setRules: (rules) => {
      setDraft(rules);
      clearTimeout(waiting.current ?? undefined);
      store(rules);
    },
    send,
  };
}
