/** Where somebody is in a study just now. */
export type Present = { name: string; section: string; part: string | null };
type Seen = Present & { account: string; at: number };

/** Who was not heard of for so long is not there any more. */
const goneAfterMs = 25_000;
/** So many windows of a study are kept in mind. */
const mostWindows = 200;

/**
 * Who is in which study just now, by what their windows tell. Only this process knows, and only while it runs: it is a courtesy
 * to each other, and nothing depends on it.
 */
const studies = new Map<string, Map<string, Seen>>();

/** Takes in where a window is, and gives where the others are, each person once. */
export function present(
  studyId: string,
  window: string,
  here: Present & { account: string },
  now = Date.now(),
): Present[] {
  const windows = studies.get(studyId) ?? new Map<string, Seen>();
  for (const [id, { at }] of windows) if (at < now - goneAfterMs) windows.delete(id);
  if (windows.size < mostWindows || windows.has(window)) windows.set(window, { ...here, at: now });
  studies.set(studyId, windows);
  const others = new Map<string, Seen>();
  for (const seen of windows.values()) {
    const known = others.get(seen.account);
    if (seen.account !== here.account && (!known || known.at < seen.at)) others.set(seen.account, seen);
  }
  return [...others.values()]
    .map(({ name, section, part }) => ({ name, section, part }))
    .toSorted((one, other) => one.name.localeCompare(other.name));
}

/** A window was closed. */
export function leave(studyId: string, window: string): void {
  const windows = studies.get(studyId);
  windows?.delete(window);
  if (windows?.size === 0) studies.delete(studyId);
}
