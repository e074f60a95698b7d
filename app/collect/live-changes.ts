type Many = Readonly<Record<string, unknown>>;

/** What changed of a state of named values: those that are others now, and of `sessions` only the lines that are. */
export type LiveChanges = { set: Many; lines: Many };

const isSame = (one: unknown, other: unknown): boolean => JSON.stringify(one) === JSON.stringify(other);
const changed = (before: Many, now: Many): Many =>
  Object.fromEntries(Object.entries(now).filter(([name, value]) => !isSame(before[name], value)));

/** What leads from one state to another; null where nothing changed. Sessions that are not in `order` any more are left out. */
export function changesBetween(before: Many, now: Many & { sessions: Many }): LiveChanges | null {
  const { sessions, ...rest } = now;
  const set = changed(before, rest);
  const lines = changed((before.sessions ?? {}) as Many, sessions);
  return Object.keys(set).length + Object.keys(lines).length === 0 ? null : { set, lines };
}

/** The state these changes lead to. */
export function withChanges<State extends { sessions: Many; order: readonly string[] }>(
  before: State,
  { set, lines }: LiveChanges,
): State {
  const next = { ...before, ...set };
  const known: Many = { ...before.sessions, ...lines };
  return { ...next, sessions: Object.fromEntries(next.order.map((id) => [id, known[id]])) };
}
