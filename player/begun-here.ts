import { join, perBrowser } from "./facts";

const key = `begun:${join}`;
/** The sessions that were begun by this link in this browser, as far as it remembers. */
const begunHere = (): string[] => JSON.parse(localStorage.getItem(key) ?? "[]") as string[];

/** Notes that a session was begun: once, however often its start was asked for. */
export function noteBegun(session: string): void {
  if (perBrowser === null) return;
  localStorage.setItem(key, JSON.stringify([...new Set([...begunHere(), session])].slice(-perBrowser)));
}

/** Whether nobody can begin by this link in this browser any more. */
export const isUsedUp = (): boolean => perBrowser !== null && begunHere().length >= perBrowser;
