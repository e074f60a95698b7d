import { byHandChannel, type ByHand } from "~/core/run/rehearsal";
import type { Outside } from "./outside";

/** Hears, beside what scripts and services give, what is set by hand in Rehearse while this plays. */
export function withHand(outside: Outside | null, session: string): Outside {
  const channel = new BroadcastChannel(byHandChannel(session));
  const come: ByHand[] = [];
  let heard: (() => void) | null = null;
  channel.onmessage = ({ data }: MessageEvent<ByHand>) => {
    come.push(data);
    heard?.();
  };
  return {
    look: (state) => outside?.look(state),
    take: () => come.shift() ?? outside?.take() ?? null,
    listen: (next) => {
      heard = next;
      outside?.listen(next);
      if (come.length > 0) next?.();
    },
    stop: () => {
      channel.close();
      outside?.stop();
    },
  };
}
