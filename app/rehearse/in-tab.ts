/** What a window that waits for a rehearsal is told: where it is played, or why it is not. */
export type TabTold = { address: string } | { trouble: string };

/** Whether a message on the channel is what the waiting window is told; any other is another such window saying that it is there. */
export const isTabTold = (data: unknown): data is TabTold => typeof data === "object" && data !== null;

/** The channel between a window of Rehearse and the one it has opened, by the name that stands in that one's address. */
export const tabChannel = (name: string): BroadcastChannel => new BroadcastChannel(`lapwing-rehearsal-${name}`);

/** A name that no other window has. Plain HTTP has no random UUIDs. */
export const tabName = (): string => `${Date.now()}-${Math.random().toString(36).slice(2)}`;

/**
 * Opens a window at an address, as a link does: nothing has to be said of the window then. `window.open` has to, and stops
 * the page that calls it for good where a busy browser cannot.
 */
export function openByLink(address: string): void {
  const link = document.createElement("a");
  link.href = address;
  link.target = "_blank";
  link.rel = "noopener";
  link.click();
}

/** Tells a window what has become of its rehearsal as soon as both are there: once it says so, or once that is known. */
export function tellTab(name: string, told: Promise<TabTold>): void {
  const channel = tabChannel(name);
  const tell = () => void told.then((what) => channel.postMessage(what));
  channel.onmessage = tell;
  tell();
  // A window that has not come by then was closed.
  setTimeout(() => channel.close(), 60_000);
}
