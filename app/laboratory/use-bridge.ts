import { useCallback, useEffect, useRef, useState } from "react";
import { BridgeLink, BridgeSays } from "~/player/bridge/link";
import { keepBridge, keptBridge, usualPort } from "~/player/bridge/kept";

/** How the bridge of this computer stands. */
export type BridgeState =
  /** None was ever looked for. */
  | { is: "unknown" }
  | { is: "looking" }
  | { is: "away" }
  | { is: "refused"; says: string }
  | { is: "there"; link: BridgeLink };

/** A bridge that is known and away is looked for so often. */
const againMs = 2000;

/** The bridge of this computer, found again by itself where it was paired before. */
export function useBridge() {
  const [state, setState] = useState<BridgeState>({ is: "unknown" });
  const [port, setPort] = useState(usualPort);
  const [, setChanges] = useState(0);
  const link = useRef<BridgeLink | null>(null);

  const look = useCallback(async (at: number, isQuiet = false) => {
    if (!isQuiet) setState({ is: "looking" });
    const kept = keptBridge();
    try {
      const found = await BridgeLink.reach(at, kept?.secret ?? null);
      link.current = found;
      found.onChange = () => {
        setChanges((count) => count + 1);
        if (!found.isOpen) setState({ is: "away" });
      };
      setState({ is: "there", link: found });
    } catch (error) {
      setState(
        error instanceof BridgeSays && error.isRefusal ? { is: "refused", says: error.message } : { is: "away" },
      );
    }
  }, []);

  useEffect(() => {
    const kept = keptBridge();
    if (kept) {
      setPort(kept.port);
      void look(kept.port);
    }
    return () => link.current?.close();
  }, [look]);
  const isAway = state.is === "away" && keptBridge() !== null;
  useEffect(() => {
    if (!isAway) return;
    const again = setInterval(() => void look(port, true), againMs);
    return () => clearInterval(again);
  }, [isAway, look, port]);

  return {
    state,
    port,
    setPort,
    look: () => void look(port),
    pair: async (code: string) => {
      const there = link.current;
      if (!there) return;
      keepBridge({ port, secret: await there.pair(code) });
      setChanges((count) => count + 1);
    },
  };
}
