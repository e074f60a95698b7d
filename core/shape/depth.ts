/** Whether a value holds others within others beyond this depth; looked at level by level, so that no depth does harm. */
export function isDeeperThan(value: unknown, most: number): boolean {
  let level: unknown[] = [value];
  for (let depth = 0; level.length > 0; depth++) {
    if (depth > most) return true;
    level = level.flatMap((each) => (typeof each === "object" && each !== null ? Object.values(each) : []));
  }
  return false;
}
